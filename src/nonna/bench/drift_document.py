"""A series in, what it says of drift out (``nonna-drift/1``): charts, steps with the events before them, trend, next date."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Any

import numpy as np

from nonna.metrology.drift import Chart, DriftLine, Meeting, ewma, individuals, meets, size_of, steps, trend
from nonna.shop.series import Series, SeriesEvent
from nonna.shop.strict_model import checked

DAY_S = 86_400.0
KEPT_BACK = 0.1  #: of the time to the earliest meeting, that the next calibration comes before it
DRIFT, INTERVAL = "drift", "interval"


def drift(document: object) -> dict[str, Any]:
    """Return what a series says. Parameters: document, as ``nonna-series/1``. Raises: NonnaError naming what is wrong."""
    series = checked(Series, document)
    points = sorted(series.points, key=lambda point: point.t)
    begun = points[0].t
    t = np.array([(point.t - begun).total_seconds() / DAY_S for point in points])
    x = np.array([point.value_mm for point in points])
    single, ranges = individuals(x)
    smooth = ewma(x)
    found = steps(t, x)
    places = tuple(each.index for each in found)
    sizes = [size_of(x, places, i) for i in range(len(found))]
    since = places[-1] if places else 0
    line = trend(t[since:], x[since:])
    now = (series.now - begun).total_seconds() / DAY_S
    meeting = meets(line, now, series.lower_mm, series.upper_mm) if line is not None else None
    return {
        "format": "nonna-drift/1",
        "individuals": _chart(single),
        "moving_range": {"mean_mm": ranges.centre, "limit_mm": ranges.upper, "out": list(ranges.out)},
        "ewma": {"values_mm": smooth.values.tolist(), "out": list(smooth.out)},
        "steps": [
            {
                "index": each.index, "size_mm": size.size, "u_mm": size.u, "p": each.p,
                "event": _event(series.events, points[each.index - 1].t, points[each.index].t),
            }
            for each, size in zip(found, sizes, strict=True)
        ],
        "trend": _trend(line),
        "meets": _meets(meeting, series.now),
        "advised": _advised(meeting, series, points[-1].t),
    }  # fmt: skip


def _chart(chart: Chart) -> dict[str, Any]:
    return {"mean_mm": chart.centre, "lower_mm": chart.lower, "upper_mm": chart.upper, "out": list(chart.out)}


def _event(events: list[SeriesEvent], before: datetime, first: datetime) -> str | None:
    """Return the last event after the point before a step and not after its own first point."""
    between = [event for event in events if before < event.t <= first]
    return max(between, key=lambda event: event.t).name if between else None


def _trend(line: DriftLine | None) -> dict[str, Any] | None:
    return None if line is None else {"per_day_mm": line.slope, "u_mm": line.u, "dof": line.dof, "p": line.p}


def _meets(meeting: Meeting | None, now: datetime) -> dict[str, Any] | None:
    if meeting is None:
        return None
    days = {"date": meeting.line, "earliest": meeting.earliest, "latest": meeting.latest}
    return {name: None if each is None else _date(now, each) for name, each in days.items()}


def _advised(meeting: Meeting | None, series: Series, last: datetime) -> dict[str, Any] | None:
    """Return when to calibrate next: before the earliest meeting, and never later than the link's own interval."""
    by_drift = by_interval = None
    if meeting is not None and meeting.earliest is not None:
        by_drift = series.now + timedelta(days=(1.0 - KEPT_BACK) * meeting.earliest)
    if series.interval_days is not None:
        by_interval = last + timedelta(days=min(series.interval_days, 366_000.0))
    if by_drift is None and by_interval is None:
        return None
    if by_interval is None or (by_drift is not None and by_drift <= by_interval):
        return {"date": _date(by_drift or series.now, 0.0), "why": DRIFT}
    return {"date": _date(by_interval, 0.0), "why": INTERVAL}


def _date(begin: datetime, days: float) -> str:
    return (begin + timedelta(days=days)).date().isoformat()
