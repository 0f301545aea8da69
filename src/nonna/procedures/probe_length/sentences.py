"""Probe length: what it says."""

from __future__ import annotations

from nonna.procedures.telling import saying

said = saying("probe-length")


SENTENCES = {
    "found": "Probe length {length:length}, ± {U:small}.",
    "sign": "Sign it, then put it into the machine.",
}
