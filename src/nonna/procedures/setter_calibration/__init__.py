"""Setter calibration: where the trigger plane, the centre and the effective width of a tool setter are."""

from nonna.procedures import offers
from nonna.procedures.listing import Listed
from nonna.shop.links.subjects import SETTER

LISTED = Listed(
    "setter-calibration",
    "Setter calibration",
    SETTER,
    offers={
        offers.TRIGGER_PLANE: "trigger_plane_mm",
        offers.SETTER_WIDTH_X: "width_x_mm",
        offers.SETTER_CENTRE_X: "centre_x_mm",
        offers.SETTER_WIDTH_Y: "width_y_mm",
        offers.SETTER_CENTRE_Y: "centre_y_mm",
    },
    older_main="trigger_plane_mm",
)
