"""Tool length: a tool's tip touched on a calibrated setter."""

from nonna.procedures import offers
from nonna.procedures.listing import Listed
from nonna.shop.links.subjects import ANY

LISTED = Listed(
    "tool-length",
    "Tool length",
    ANY,
    offers={offers.TOOL_LENGTH: "length_mm", offers.TOOL_LENGTH_HERE: "length_mm"},
    stored={"length_mm": "length"},
    measures="length",
)
