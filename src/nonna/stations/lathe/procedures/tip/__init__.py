"""A tip on the arm's faces: its offset, and what changed against the last one."""

from nonna.procedures.listing import Listed
from nonna.shop.links.subjects import ANY

LISTED = Listed(
    "lathe-tip",
    "Tip on the arm",
    ANY,
    offers={"tip.offset_x": "offset_x_mm", "tip.offset_z": "offset_z_mm"},
    stored={"offset_x_mm": "offset-x", "offset_z_mm": "offset-z"},
)
