"""Trigger latency: the same spot touched at several feeds tells how late the trigger is, and how much that jitters."""

from nonna.procedures import offers
from nonna.procedures.listing import Listed
from nonna.shop.links.subjects import SETTER

LISTED = Listed("trigger-latency", "Trigger latency", SETTER, offers={offers.TRIGGER_LATENESS: "latency_s"})
