"""What kind of tool a name means: "Drill 8.5", "SHELL MILL 63", "ball nose"."""

from __future__ import annotations

_WORDS = (
    ("spot", "spot-drill"), ("centre drill", "spot-drill"), ("center drill", "spot-drill"), ("thread", "thread-mill"),
    ("drill", "drill"), ("tap", "tap"), ("ream", "reamer"), ("ball", "ball-mill"), ("bull", "bull-mill"), ("torus", "bull-mill"),
    ("face", "face-mill"), ("shell", "face-mill"), ("chamfer", "chamfer-mill"), ("countersink", "chamfer-mill"), ("saw", "slitting-saw"),
    ("slot mill", "t-slot"), ("t-slot", "t-slot"), ("t slot", "t-slot"), ("dovetail", "dovetail"), ("bor", "boring-bar"),
    ("probe", "probe"), ("master", "master"),
)  # fmt: skip


def kind_of(words: str) -> str:
    """Return the kind of tool that words mean; an end mill where nothing else is said."""
    plain = words.lower().replace("_", " ")
    return next((kind for word, kind in _WORDS if word in plain), "end-mill")
