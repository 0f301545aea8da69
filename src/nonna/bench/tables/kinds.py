"""What kind of tool a name means: "Drill 8.5", "SHELL MILL 63", "ball nose"."""

from __future__ import annotations

_WORDS = (
    ("spot", "spot-drill"), ("centre drill", "spot-drill"), ("center drill", "spot-drill"), ("thread", "thread-mill"),
    ("drill", "drill"), ("tap", "tap"), ("ream", "reamer"), ("ball", "ball-mill"), ("bull", "bull-mill"),
    ("torus", "bull-mill"),
    ("face", "face-mill"), ("shell", "face-mill"), ("chamfer", "chamfer-mill"), ("countersink", "chamfer-mill"),
    ("saw", "slitting-saw"),
    ("slot mill", "t-slot"), ("t-slot", "t-slot"), ("t slot", "t-slot"), ("dovetail", "dovetail"),
    ("bor", "boring-bar"), ("turn", "turning-tool"),
    ("probe", "probe"), ("master", "master"),
)  # fmt: skip


def kind_of(words: str) -> str:
    """Return the kind of tool that words mean; an end mill where nothing else is said."""
    return said_kind(words) or "end-mill"


def said_kind(words: str) -> str:
    """Return the kind of tool that words name, "" where they name none."""
    plain = words.lower().replace("_", " ")
    kind = next((kind for word, kind in _WORDS if word in plain), "")
    return kind or ("end-mill" if "mill" in plain else "")
