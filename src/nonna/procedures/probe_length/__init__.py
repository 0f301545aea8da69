"""Probe length: the stylus ball on a surface of known height."""

from nonna.procedures import offers
from nonna.procedures.listing import Listed
from nonna.shop.links.subjects import PROBE

LISTED = Listed("probe-length", "Probe length", PROBE, offers={offers.PROBE_LENGTH: "probe_length_mm"})
