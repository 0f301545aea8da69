"""Probe in a ring or on a pin: effective ball radius, offset from the spindle axis, lobing."""

from nonna.procedures import offers
from nonna.procedures.listing import Listed
from nonna.shop.links.subjects import PROBE

LISTED = Listed("probe-ring", "Probe ring", PROBE, offers={offers.BALL_RADIUS: "ball_radius_mm"})
