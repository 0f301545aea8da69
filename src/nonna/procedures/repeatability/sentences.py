"""Repeatability: what it says."""

from __future__ import annotations

from nonna.procedures.telling import saying

said = saying("repeatability")


SENTENCES = {
    "found-pass": "Touches repeat within {two_s:small} (2 s), at most {high:small}: good.",
    "found-fail": "The scatter, 2 s, is {two_s:small}, over {limit:small}.",
    "found-undecided": "The scatter, 2 s, is {two_s:small} but could be {high:small}; the limit is {limit:small}.",
    "found-none": "Touches repeat within {two_s:small} (2 s), at most {high:small}.",
    "pass": "Sign it and it is used from now on.",
    "none": "Sign it and it is used from now on.",
    "fail": "Clean what touches and what is touched, then do it again.",
    "undecided": "More touches will tell.",
    "outliers": "Touch {touches} does not belong with the others. Was there a chip? Strike it only if you know why.",
    "go-on": "Go on to {touches} touches.",
}
