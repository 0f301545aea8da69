"""A series in, what it says of drift out (``nonna-drift/1``): charts, steps with the events before them, trend, next
date.
"""

from __future__ import annotations

from datetime import datetime, timedelta

import numpy as np

from nonna.errors import NonnaError, TooFewReadingsError
from nonna.metrology.drifting.drift import Chart, DriftLine, Meeting, ewma, individuals, size_of, steps
from nonna.metrology.drifting.forecast import Forecast, forecast, without_temperature
from nonna.shop.links.series import Series, SeriesEvent
from nonna.shop.texts.given import Plain
from nonna.shop.texts.strict_model import checked

DAY_S = 86_400.0
KEPT_BACK = 0.1  #: of the time to the earliest meeting, that the next calibration comes before it
LEAST_POINTS = 2
SIGNIFICANT = 0.05  #: p of a slope that is a reason to calibrate before the interval is over
DRIFT, INTERVAL = "drift", "interval"


def drift(document: object) -> dict[str, Plain]:
    """Return what a series says. Parameters: document, as ``nonna-series/1``. Raises: NonnaError naming what is
    wrong.
    """
    series = checked(Series, document)
    if len(series.points) < LEAST_POINTS:
        raise TooFewReadingsError(
            "points: {count} of them; a series has two at least.", "points", count=len(series.points)
        )
    if series.lower_mm is not None and series.upper_mm is not None and series.lower_mm >= series.upper_mm:
        words = "lower_mm: the lower limit must be below the upper one, {upper:g}."
        raise NonnaError("out-of-range", words, "lower_mm", upper=series.upper_mm)
    points = sorted(series.points, key=lambda point: point.t)
    begun = points[0].t
    t = np.array([(point.t - begun).total_seconds() / DAY_S for point in points])
    x = np.array([point.value_mm for point in points])
    single, ranges = individuals(x)
    warm = [point.temperature_c for point in points]
    smooth = ewma(x)
    if all(each is not None for each in warm):
        x = without_temperature(t, x, np.array(warm, dtype=float))
    found = steps(t, x)
    places = tuple(each.index for each in found)
    sizes = [size_of(x, places, i) for i in range(len(found))]
    now = (series.now - begun).total_seconds() / DAY_S
    said = forecast(t, x, places, now, series.lower_mm, series.upper_mm)
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
        "trend": _trend(said.line),
        "meets": _meets(said.meeting, series.now),
        "advised": _advised(said, series, points[-1].t),
        "flags": list(said.flags),
    }  # fmt: skip


def _chart(chart: Chart) -> dict[str, Plain]:
    return {"mean_mm": chart.centre, "lower_mm": chart.lower, "upper_mm": chart.upper, "out": list(chart.out)}


def _event(events: list[SeriesEvent], before: datetime, first: datetime) -> str | None:
    """Return the last event after the point before a step and not after its own first point."""
    between = [event for event in events if before < event.t <= first]
    return max(between, key=lambda event: event.t).name if between else None


def _trend(line: DriftLine | None) -> dict[str, Plain] | None:
    return None if line is None else {"per_day_mm": line.slope, "u_mm": line.u, "dof": line.dof, "p": line.p}


def _meets(meeting: Meeting | None, now: datetime) -> dict[str, Plain] | None:
    if meeting is None:
        return None
    days = {"date": meeting.line, "earliest": meeting.earliest, "latest": meeting.latest}
    return {name: None if each is None else _date(_later(now, each)) for name, each in days.items()}


def _advised(said: Forecast, series: Series, last: datetime) -> dict[str, Plain] | None:
    """Return when to calibrate next: before the earliest meeting, and never later than the link's own interval.

    A slope that may well be chance is no reason to calibrate sooner.
    """
    by_drift = by_interval = None
    meeting, line = said.meeting, said.line
    if meeting is not None and meeting.earliest is not None and line is not None and line.p < SIGNIFICANT:
        by_drift = _later(series.now, (1.0 - KEPT_BACK) * meeting.earliest)
    if series.interval_days is not None:
        by_interval = _later(last, series.interval_days)
    if by_drift is None and by_interval is None:
        return None
    if by_interval is None or (by_drift is not None and by_drift <= by_interval):
        return {"date": _date(by_drift), "why": DRIFT}
    return {"date": _date(by_interval), "why": INTERVAL}


def _later(begin: datetime, days: float) -> datetime | None:
    """Return a moment so many days later, None where no calendar reaches that far."""
    try:
        return begin + timedelta(days=days)
    except OverflowError:
        return None


def _date(moment: datetime | None) -> str | None:
    return None if moment is None else moment.date().isoformat()
