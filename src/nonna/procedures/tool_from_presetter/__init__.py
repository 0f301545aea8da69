"""A tool measured on the shop's presetter for the machine that is going to use it: put right by calibration and
transfer.
"""

from nonna.procedures import offers
from nonna.procedures.listing import Listed
from nonna.shop.links.subjects import ANY

LISTED = Listed(
    "tool-from-presetter",
    "Tool from the presetter",
    ANY,
    offers={offers.FROM_PRESETTER: "length_mm", offers.TOOL_LENGTH_HERE: "length_mm"},
    stored={"length_mm": "length", "diameter_mm": "diameter"},
)
