"""Repeatability: the same touch many times over."""

from nonna.procedures import offers
from nonna.procedures.listing import Listed
from nonna.shop.links.subjects import SETTER

LISTED = Listed("repeatability", "Repeatability", SETTER, offers={offers.TOUCH_SCATTER: "s_mm"}, is_scatter=True)
