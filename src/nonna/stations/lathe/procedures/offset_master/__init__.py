"""The reference tool from a master held in the chuck: touched on both sides of a half turn, so that its run-out
cancels.
"""

from nonna.procedures.listing import Listed
from nonna.shop.links.subjects import Subject

LISTED = Listed(
    "lathe-offset-master",
    "Reference tool on a master in the chuck",
    Subject.of("Reference tool"),
    offers={"reference.x": "offset_x_mm", "reference.z": "offset_z_mm"},
    stored={"offset_x_mm": "offset-x", "offset_z_mm": "offset-z"},
)
