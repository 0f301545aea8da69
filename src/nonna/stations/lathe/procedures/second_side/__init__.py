"""The second side of a part: how far it runs out to the first, which the chuck holds."""

from nonna.procedures.listing import Listed
from nonna.shop.links.subjects import Subject

LISTED = Listed("second-side", "Second side of a part", Subject.of("Part"))
