"""Chuck run-out: what it says."""

from __future__ import annotations

SENTENCES = {
    "found-none": "Run-out {runout:small}, ± {U:small}, high at {high:0f}°.",
    "found-pass": "Run-out {runout:small}, ± {U:small}: within {limit:small}.",
    "found-fail": "Run-out {runout:small}, ± {U:small}, over {limit:small}, high at {high:0f}°.",
    "found-undecided": "Run-out {runout:small}, ± {U:small}: the doubt leaves {limit:small} open.",
    "pass": "Sign it.",
    "none": "Sign it.",
    "fail": "Chips under a jaw? Clean, close again at full pressure. Tap the jaw nearest {high:0f}° in, or bore soft "
    "jaws anew.",
    "undecided": "Probe more angles, or each one twice.",
}
