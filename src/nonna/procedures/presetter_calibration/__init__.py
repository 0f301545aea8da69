"""Presetter calibration: zero and scale of both axes from two masters, proved on a third."""

from nonna.procedures.listed import Listed
from nonna.shop.subjects import PRESETTER

LISTED = Listed("presetter-calibration", "Presetter calibration", PRESETTER)
