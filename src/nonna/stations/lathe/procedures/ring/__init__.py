"""The turret probe in a ring, or on the part itself: its effective ball, inside and outside apart."""

from nonna.procedures import offers
from nonna.procedures.listing import Listed
from nonna.shop.links.subjects import Subject

LISTED = Listed(
    "lathe-ring", "Probe in the ring, lathe", Subject.of("Probe"), offers={offers.BALL_DIAMETER: "ball_diameter_mm"}
)
