"""Breakage threshold: the tolerance that neither cries wolf nor lets a broken tool pass."""

from nonna.procedures import offers
from nonna.procedures.listing import Listed
from nonna.shop.links.subjects import SETTER

LISTED = Listed("breakage-threshold", "Breakage threshold", SETTER, offers={offers.BREAKAGE_TOLERANCE: "tolerance_mm"})
