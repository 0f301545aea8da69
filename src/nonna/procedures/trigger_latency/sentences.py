"""Trigger latency: what it says."""

from __future__ import annotations

from nonna.procedures.telling import saying

said = saying("trigger-latency")


SENTENCES = {
    "found": "The trigger comes {late:2f} ms late, ± {U:2f} ms: {way:small} at {feed:0f} mm/min.",
    "sign": "Sign it, then put it on the machine's card (Shelf, F10): feeds are chosen by it.",
    "early": "The trigger cannot come before the contact. Were the feeds noted the right way round? Does the axis "
    "really move that way?",
    "crooked": "At {feed:0f} mm/min it stands {off:small} off the line: was that feed really reached? Back off "
    "further, turn the override to 100 % and do that feed again.",
    "changed": "It was {before:2f} ms before: {off:2f} ms from that, beyond both doubts. Was a feed noted wrongly, "
    "was the override at 100 %? "
    "Is it another setter, cable or stylus?",
    "no-jitter": "Faster touches do not scatter more than slow ones: jitter is too small to be seen here.",
}
