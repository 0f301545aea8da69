"""Evidence in, the fewest faults that explain it out (``nonna-diagnosis/1``)."""

from __future__ import annotations

import statistics
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from nonna.metrology.diagnosis import FaultGroup, groups, information
from nonna.shop.links.evidence import Evidence, Observation
from nonna.shop.texts.given import Plain
from nonna.shop.texts.strict_model import checked

PRIOR, RAISED = 0.02, 0.3
FALSE = 0.03  #: probability that a reading is false by itself: dirt, a chip, a slip of the hand
LISTED = 0.05  #: a doubtful reading less probable is not listed
SPREAD_MM, SPREAD_PPM = 0.1, 100.0
PPM = 1e-6
SCALE, TOOL, DOUBTFUL = "scale", "tool", "doubtful-reading"
SAME_DIRECTION = 1e-9
SHORTEST_MM = 1e-3  #: of a length whose scale is looked at

_BENT = ("stylus-bent-x", "stylus-bent-y")
RAISES: Mapping[str, tuple[str, ...]] = {
    "crash": ("setter-moved", "growth", "probe-length", TOOL, *_BENT),
    "stylus-changed": ("probe-length", "stylus-worn", *_BENT, "lobing"),
    "probe-bumped": ("probe-length", *_BENT, "lobing"),
    "setter-moved": ("setter-moved",), "setter-knocked": ("setter-moved",),
    "spindle-work": ("growth",), "rehomed": ("growth",), "temperature": ("growth", SCALE),
    "machine-moved": ("setter-moved", SCALE), "master-recalled": ("master-wrong",),
    "tool-regripped": (TOOL,), "insert-changed": (TOOL,),
}  # fmt: skip
"""Faults that an event logged since can cause."""
MINUTES: Mapping[str, float] = {
    "setter-by-master": 6.0, "tool-on-setter": 2.0, "probe-on-setter": 3.0, "face-by-probe": 2.0, "closure": 5.0,
    "step-by-probe": 5.0,
    "ring-radius": 8.0, "ring-offset-x": 8.0, "ring-offset-y": 8.0, "lobing": 8.0,
}  # fmt: skip
"""What looking takes where nobody says."""
_SIMPLE: Mapping[str, tuple[str, ...]] = {
    "setter-by-master": ("setter-moved", "growth", "master-wrong"), "tool-on-setter": ("setter-moved", "growth"),
    "probe-on-setter": ("setter-moved", "growth", "probe-length"), "face-by-probe": ("growth", "probe-length"),
    "closure": ("probe-length",), "step-by-probe": (), "ring-radius": ("stylus-worn",),
    "ring-offset-x": ("stylus-bent-x",), "ring-offset-y": ("stylus-bent-y",), "lobing": ("lobing",),
}  # fmt: skip


@dataclass(frozen=True, slots=True, order=True)
class Fault:
    """A hidden fault; of a tool, which; of a reading, the place of its observation."""

    name: str
    subject: int = 0

    @property
    def words(self) -> str:
        """Its name, with the tool's number where it is one."""
        if self.name == DOUBTFUL:
            return f"{DOUBTFUL} {self.subject}"
        return f"{self.name}-{self.subject}" if self.subject else self.name

    @property
    def about(self) -> int | None:
        """What it is about, as the answer names it."""
        return self.subject if self.name == DOUBTFUL else self.subject or None


def effects(what: str, subject: int | None, length: float, probe_length: float) -> dict[Fault, float]:
    """Return what each fault of unit size (mm; scale: ppm) does to an observation (mm)."""
    found = {Fault(name): 1.0 for name in _SIMPLE[what]}
    if what == "tool-on-setter":
        found[Fault(TOOL, subject or 0)] = 1.0
    reach = length
    if what == "closure":
        found[Fault(TOOL, subject or 0)] = -1.0
        reach = probe_length - length
    if abs(reach) >= SHORTEST_MM and not what.startswith(("ring", "lobing", "face")):
        found[Fault(SCALE)] = PPM * reach
    return found


def diagnose(document: object) -> dict[str, Plain]:
    """Return which faults explain what changed. Parameters: document, as ``nonna-evidence/1``. Raises: NonnaError."""
    evidence = checked(Evidence, document)
    rows = [effects(o.what, o.subject, o.length_mm, o.probe_length_mm) for o in evidence.observations]
    for i, row in enumerate(rows):
        row[Fault(DOUBTFUL, i)] = 1.0
    faults = sorted({fault for row in rows for fault in row})
    a = np.array([[row.get(fault, 0.0) for fault in faults] for row in rows]).reshape(len(rows), len(faults))
    y = np.array([o.change_mm for o in evidence.observations])
    u = np.array([o.u_mm for o in evidence.observations])
    raised = {name for event in evidence.events for name in RAISES.get(event, ())}
    prior = np.array([_prior(fault, raised) for fault in faults])
    spread = np.array([SPREAD_PPM if fault.name == SCALE else SPREAD_MM for fault in faults])
    parts = [(at, FaultGroup(y[seen], u[seen], a[np.ix_(seen, at)], spread[at], prior[at])) for seen, at in groups(a)]
    judged = [(group.judged(k), faults[int(at[k])]) for at, group in parts for k in range(at.size)]
    judged = [each for each in judged if each[1].name != DOUBTFUL or each[0].probability >= LISTED]
    judged.sort(key=lambda each: (-each[0].probability, each[1]))
    doubtful = {k for k, fault in enumerate(faults) if fault.name == DOUBTFUL}
    sound = [group.only(frozenset(i for i, k in enumerate(at) if int(k) in doubtful)) for at, group in parts]
    bounded = any(group.bounded for _, group in parts)
    return {
        "format": "nonna-diagnosis/1",
        "faults": [
            {
                "name": fault.name, "subject": fault.about, "probability": found.probability,
                **({"size_ppm": found.size, "u_ppm": found.u} if fault.name == SCALE else {"size_mm": found.size,
                    "u_mm": found.u}),
            }
            for found, fault in judged
        ],
        "none": float(np.prod(sound)),
        "alike": _alike(a, faults),
        "next": _next(evidence, faults, parts, raised),
        **({"note": MANY} if bounded else {}),
    }  # fmt: skip


MOST_LOOKED_AT = 6  #: next observations that are reckoned through, of those that a first glance finds best
MANY = "So many hang together that sets of three and more faults were tried only where smaller ones carry weight."


def _prior(fault: Fault, raised: Collection[str]) -> float:
    return FALSE if fault.name == DOUBTFUL else RAISED if fault.name in raised else PRIOR


def _alike(a: NDArray[np.float64], faults: Sequence[Fault]) -> list[list[str]]:
    """Return sets of faults whose effects on what was observed are in one proportion: it cannot tell them apart."""
    unit = a / np.linalg.norm(a, axis=0)
    left, found = [k for k, fault in enumerate(faults) if fault.name != DOUBTFUL], []
    while left:
        first = left[0]
        same = [k for k in left if abs(abs(float(unit[:, first] @ unit[:, k])) - 1.0) <= SAME_DIRECTION]
        left = [k for k in left if k not in same]
        if len(same) > 1:
            found.append([faults[k].words for k in same])
    return found


def _next(
    evidence: Evidence,
    faults: Sequence[Fault],
    parts: Sequence[tuple[NDArray[np.intp], FaultGroup]],
    raised: Collection[str],
) -> dict[str, Plain] | None:
    """Return the observation, new or again, that is expected to tell most a minute; None where none tells anything.

    It may be false itself, and what it looks at besides may have a fault that nothing has looked at yet.
    """
    place = {fault: k for k, fault in enumerate(faults)}
    looks = []
    for (what, subject), effect in _candidates(evidence.observations).items():
        known = {place[fault]: value for fault, value in effect.items() if fault in place}
        looked = [(at, group) for at, group in parts if any(int(k) in known for k in at)]
        if not looked:
            continue
        predicted = [list(group.predicted(np.array([known.get(int(k), 0.0) for k in at]))) for at, group in looked]
        minutes = float(evidence.minutes.get(what, MINUTES[what]))  # type: ignore[call-overload]
        chances = [(FALSE, SPREAD_MM)]
        for fault, value in effect.items():
            if fault not in place:
                spread = SPREAD_PPM if fault.name == SCALE else SPREAD_MM
                chances.append((_prior(fault, raised), abs(value) * spread))
        u = _u_of(what, evidence.observations)
        looks.append(
            (
                information(predicted, u, chances, glance=True) / minutes,
                what,
                subject,
                minutes,
                predicted,
                u,
                chances,
                looked,
            )
        )
    looks.sort(key=lambda each: -each[0])
    best: tuple[float, str, int | None, float, str] | None = None
    for _, what, subject, minutes, predicted, u, chances, looked in looks[:MOST_LOOKED_AT]:
        gain = information(predicted, u, chances) / minutes
        if gain > 1e-9 and (best is None or gain > best[0] * (1.0 + 1e-9)):
            best = gain, what, subject, minutes, _why(looked, faults)
    if best is None:
        return None
    _, what, subject, minutes, why = best
    return {"what": what, "subject": subject, "minutes": minutes, "why": why}


def _candidates(made: Sequence[Observation]) -> dict[tuple[str, int | None], dict[Fault, float]]:
    """Return what could be observed: what was, again; and what else the lengths that are known allow."""
    found: dict[tuple[str, int | None], dict[Fault, float]] = {}
    tools: dict[int, float] = {}
    probe: float | None = None
    for o in made:
        found.setdefault((o.what, o.subject), effects(o.what, o.subject, o.length_mm, o.probe_length_mm))
        if o.subject is not None and (o.length_mm or o.subject not in tools):
            tools[o.subject] = tools.get(o.subject) or o.length_mm
        if o.what == "probe-on-setter" and o.length_mm:
            probe = o.length_mm
        elif o.what == "closure" and o.probe_length_mm and probe is None:
            probe = o.probe_length_mm
    new: list[tuple[str, int | None, float, float]] = [
        (what, None, 0.0, 0.0) for what in ("face-by-probe", "ring-radius", "ring-offset-x", "ring-offset-y", "lobing")
    ]
    new += [("setter-by-master", None, 0.0, 0.0), ("probe-on-setter", None, probe or 0.0, 0.0)]
    for number, length in tools.items():
        new.append(("tool-on-setter", number, length, 0.0))
        new.append(("closure", number, length, length if probe is None else probe))
    for what, subject, length, probe_length in new:
        found.setdefault((what, subject), effects(what, subject, length, probe_length))
    return found


def _u_of(what: str, made: Sequence[Observation]) -> float:
    """Return what an observation would be good for: the median of its kind, else of all."""
    own = [o.u_mm for o in made if o.what == what]
    return statistics.median(own or [o.u_mm for o in made])


def _why(looked: Sequence[tuple[NDArray[np.intp], FaultGroup]], faults: Sequence[Fault]) -> str:
    """Say which explanations it tells apart: the two likeliest of what it looks at."""
    at, group = max(looked, key=lambda each: 1.0 - each[1].posterior.weights[0])
    sets = [" and ".join(faults[int(at[k])].words for k in each) or "no fault" for each in group.posterior.sets[:2]]
    return f"tells {sets[0]} from {sets[1]}" if len(sets) > 1 else f"looks again at {sets[0]}"
