"""Probe in the ring, lathe: what it says."""

from __future__ import annotations

from nonna.procedures.telling import saying

said = saying("lathe-ring")


SENTENCES = {
    "found": "Effective ball {value:length}, ± {U:small}, {side}.",
    "centre": "Centre at {centre:length} as shown.",
    "sign": "Sign it; inside and outside are calibrated apart.",
}
