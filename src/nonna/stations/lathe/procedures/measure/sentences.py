"""Part on the lathe: what it says."""

from __future__ import annotations

from nonna.procedures.telling import saying

said = saying("lathe-measure")


SENTENCES = {
    "found-none": "{size:length}, ± {U:small}: {error:signed} from nominal.",
    "found-pass": "{size:length}, ± {U:small}: {error:signed} from nominal, within its tolerance.",
    "found-fail": "{size:length}, ± {U:small}: {error:signed} from nominal, OUT of its tolerance.",
    "found-undecided": "{size:length}, ± {U:small}: {error:signed} from nominal; the doubt reaches over a limit.",
    "leave": "The error is within its own doubt: the wear stays as it is.",
    "correct": "Wear {old:signed} becomes {new:signed} for the next part.",
    "early": "Part {parts} of this process: its wear is followed from part {least} on, when its scatter is known. It "
    "stays as it is.",
    "process-leave": "{parts} parts together say no more than their own scatter: the wear stays as it is.",
    "process-correct": "{parts} parts together: wear {old:signed} becomes {new:signed} for the next one.",
    "stop": "Too far off for wear: broken insert, wrong part or wrong program? No correction is made; look first.",
    "pass": "Sign it.",
    "none": "Sign it.",
    "fail": "Set the part aside and find out why before the next one.",
    "undecided": "Touch again, each side once more, or measure it by micrometer.",
}
