"""Feeler zero: touch a block of known height; the mean less the height is the zero."""

from nonna.procedures.listing import Listed
from nonna.shop.links.subjects import Subject

LISTED = Listed("feeler-zero", "Feeler zero", Subject.of("Feeler"))
