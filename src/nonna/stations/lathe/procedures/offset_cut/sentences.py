"""Reference tool by test cut: what it says."""

from __future__ import annotations

from nonna.procedures.telling import saying

said = saying("lathe-offset-cut")


SENTENCES = {
    "found": "{axis} offset of the reference tool {value:length}, ± {U:small}.",
    "sign": "Sign it; the arm is calibrated with this tool.",
}
