"""Rack of tool pockets: where each pocket is, whether its clip is bent, and the row they make."""

from nonna.procedures import offers
from nonna.procedures.listing import Listed
from nonna.shop.links.subjects import RACK

LISTED = Listed("rack-pockets", "Rack pockets", RACK, offers={offers.RACK_POCKETS: ""})
