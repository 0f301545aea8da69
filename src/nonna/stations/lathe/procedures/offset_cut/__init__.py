"""The reference tool by a test cut: turn, measure with a micrometer, face, measure."""

from nonna.procedures.listing import Listed
from nonna.shop.links.subjects import Subject

LISTED = Listed(
    "lathe-offset-cut",
    "Reference tool by test cut",
    Subject.of("Reference tool"),
    offers={"reference.x": "offset_x_mm", "reference.z": "offset_z_mm"},
    stored={"offset_x_mm": "offset-x", "offset_z_mm": "offset-z"},
)
