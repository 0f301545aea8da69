"""Tip run-out: a stylus ball, master tool or any held shank turned against an indicator."""

from nonna.procedures.listing import Listed
from nonna.shop.links.subjects import PROBE

LISTED = Listed("tip-runout", "Tip run-out", PROBE)
