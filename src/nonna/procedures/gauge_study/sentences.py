"""Gauge study: what it says."""

from __future__ import annotations

from nonna.procedures.telling import saying

said = saying("gauge-study")


SENTENCES = {
    "crossed": "The gauge scatters by {both:small} (one standard deviation): {categories:0f} kinds of parts can be "
    "told apart.",
    "single": "It reads {bias:signed} off, with a scatter of {s:small}.",
    "repeat": "Most of it is the gauge itself: better clamping, more readings, a finer gauge.",
    "people": "Most of it lies between the people: agree on one way of doing it.",
    "sign": "Sign it.",
}
