"""Loop closure: the same surface through the setter's chain and through the probe's."""

from nonna.procedures.listing import Listed
from nonna.shop.links.subjects import SETTER_AND_PROBE

LISTED = Listed("loop-closure", "Loop closure", SETTER_AND_PROBE)
