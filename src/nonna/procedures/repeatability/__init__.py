"""Repeatability: the same touch many times over."""

from nonna.procedures.listed import Listed
from nonna.shop.subjects import SETTER

LISTED = Listed("repeatability", "Repeatability", SETTER)
