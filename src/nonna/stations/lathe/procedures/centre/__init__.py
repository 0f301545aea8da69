"""The turret's centre line: an indicator in the chuck swept round a bar held in a station."""

from nonna.procedures.listing import Listed
from nonna.shop.links.subjects import Subject

LISTED = Listed(
    "lathe-centre",
    "Centre line of the turret",
    Subject.of("Machine"),
    offers={"turret.centre-line": "centre_line_x_mm"},
)
