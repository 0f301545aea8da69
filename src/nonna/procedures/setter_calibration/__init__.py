"""Setter calibration: where the trigger plane, the centre and the effective width of a tool setter are."""

from nonna.procedures.listed import Listed
from nonna.shop.subjects import SETTER

LISTED = Listed("setter-calibration", "Setter calibration", SETTER)
