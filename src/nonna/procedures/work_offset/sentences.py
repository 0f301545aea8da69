"""Work offset: what it says."""

from __future__ import annotations

from nonna.procedures.telling import saying

said = saying("work-offset")


SENTENCES = {
    "found": "The surface stands at Z {w:length}, ± {U:small}.",
    "sign": "Sign it, then put it into the machine.",
}
