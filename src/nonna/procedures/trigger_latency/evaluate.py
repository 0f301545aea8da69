"""Trigger latency: the same spot touched at several feeds tells how late the trigger is, and how much that jitters."""

from __future__ import annotations

import math

from nonna.metrology.doubt.uncertain import Estimate, Influences
from nonna.metrology.lateness import fit_lateness
from nonna.procedures.evaluation import Evaluation, Quantity
from nonna.procedures.telling import saying
from nonna.procedures.trigger_latency.model import LatencyReadings, LatencySetup

said = saying("trigger-latency")


def _apart(late: Estimate, setup: LatencySetup) -> float:
    """Return how far it is from the record before, s; 0 within both doubts: a trigger hardly changes by itself."""
    influences = Influences()
    now = influences.add("now", late.value, late.u, late.dof)
    then = influences.add(
        "before", setup.before_s or 0.0, setup.before_u_s, math.inf if setup.before_dof is None else setup.before_dof
    )
    apart = influences.estimate(now - then)
    return apart.value if abs(apart.value) > apart.expanded else 0.0


def evaluate(file: LatencyReadings) -> Evaluation:
    """``position = plane - latency * feed`` by a line through the means at three feeds or more."""
    groups: dict[float, list[float]] = {}
    for reading in file.readings:
        groups.setdefault(reading.feed_mm_min, []).append(reading.position_mm)
    towards = 1 if file.setup.towards == "plus" else -1
    found = fit_lateness(groups, towards=towards, **file.setup.history())
    fast = max(groups)
    late = found.late
    flags, advice = [], []
    if late.value + late.expanded < 0.0:
        flags.append("trigger-before-contact")
        advice.append(said("early"))
    if found.above_history:
        flags.append("scatter-above-history")
    if not found.straight:
        flags.append("not-straight")
        feed, off = max(found.off_line, key=lambda row: abs(row[1].value) / row[1].expanded)
        advice.append(said("crooked", feed=feed, off=abs(off.value)))
    if file.setup.before_s is not None and (apart := _apart(late, file.setup)):
        flags.append("changed-since")
        advice.append(said("changed", before=file.setup.before_s * 1000.0, off=apart * 1000.0))
    if found.jitter_s == 0.0:
        advice.append(said("no-jitter"))
    return Evaluation(
        file.procedure,
        (
            Quantity.of("latency_s", "Trigger late by", late, "s"),
            Quantity("jitter_s", "Jitter of the trigger (1 s)", found.jitter_s, "s"),
            Quantity.of("plane_mm", "Plane at no speed", found.plane),
            Quantity("way_mm", f"Way lost at {fast:g} mm/min", late.value * fast / 60.0),
        ),
        file.rule.rule(),
        said(
            "found",
            late=late.value * 1000.0,
            U=late.expanded * 1000.0,
            way=late.value * fast / 60.0,
            feed=fast,
        ),
        said("sign"),
        (),
        tuple(flags),
        tuple(advice),
    )
