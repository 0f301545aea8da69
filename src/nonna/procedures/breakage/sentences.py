"""Breakage: what it says."""

from __future__ import annotations

from nonna.procedures.telling import saying

said = saying("breakage")


SENTENCES = {
    "ok": "The tool is as it was, {change:signed}, ± {U:small}.",
    "worn": "The tool is worn: {change:signed}, ± {U:small}.",
    "broken": "The tool is broken: {size:small} shorter.",
    "pulled-out": "The tool has pulled out: {size:small} longer.",
    "missing": "No trigger: at least {gone:length} of the tool is gone.",
    "then-ok": "Go on.",
    "then-worn": "Go on; plan a change soon.",
    "then-broken": "Stop. Change the tool, look for its splinters and at the last part it cut.",
    "then-pulled-out": "Stop. The holder has let go: clean and clamp it again, look at the last part it cut.",
    "then-missing": "Stop. Change the tool, look for the rest of it and at the last part it cut.",
}
