"""Tooth run-out: how far each insert of a cutter stands out, touched one by one with the spindle oriented."""

from nonna.procedures import offers
from nonna.procedures.listing import Listed
from nonna.shop.links.subjects import ANY

LISTED = Listed("tooth-runout", "Tooth run-out", ANY, offers={offers.TOOL_EDGES: "runout_mm"}, measures="teeth")
