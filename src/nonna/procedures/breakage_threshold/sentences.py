"""Breakage threshold: what it says."""

from __future__ import annotations

from nonna.procedures.telling import saying

said = saying("breakage-threshold")


SENTENCES = {
    "possible": "Call a tool broken when it is {tol:small} shorter: from {least:small} to {most:small} would do.",
    "then-possible": "Sign it, then put it into the checks.",
    "impossible": "No tolerance meets both: {least:small} keeps the false alarms, but lets too many breaks of "
    "{size:small} pass.",
    "then-impossible": "Look for a larger break only, touch more often a check, or make the touch repeat better.",
    "odds": "With it {alarm} good tools is called bad, {missed} such breaks is missed.",
}
