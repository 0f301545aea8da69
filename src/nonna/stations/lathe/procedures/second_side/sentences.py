"""Second side of a part: what it says."""

from __future__ import annotations

from nonna.stations.lathe.procedures.chuck.sentences import SENTENCES as OF_THE_CHUCK

SENTENCES = {
    **OF_THE_CHUCK,
    "found-none": "The second side runs out {runout:small}, ± {U:small}, to the first, high at {high:0f}°.",
    "found-pass": "The second side runs out {runout:small}, ± {U:small}, to the first: within {limit:small}.",
    "found-fail": "The second side runs out {runout:small}, ± {U:small}, to the first, over {limit:small}, high at "
    "{high:0f}°.",
    "found-undecided": "The second side runs out {runout:small}, ± {U:small}, to the first: the doubt leaves "
    "{limit:small} open.",
    "fail": "Before it is cut: clamp again, or tap it in at {high:0f}° and indicate the first side true. It was cut "
    "already? Set it aside; bore the soft jaws to the first side's size.",
}
