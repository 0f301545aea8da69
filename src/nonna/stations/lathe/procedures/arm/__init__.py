"""The swing-arm setter: planes of its faces and what lies between them, with the reference tool."""

from nonna.procedures.listing import Listed
from nonna.shop.links.subjects import Subject

LISTED = Listed(
    "lathe-arm",
    "Arm calibration",
    Subject.of("Arm"),
    offers={f"arm.{name}": f"plane_{name}_mm" for name in ("plus_x", "minus_x", "plus_z", "minus_z")},
)
