"""Breakage threshold: the tolerance that neither cries wolf nor lets a broken tool pass."""

from nonna.procedures.listed import Listed
from nonna.shop.subjects import SETTER

LISTED = Listed("breakage-threshold", "Breakage threshold", SETTER)
