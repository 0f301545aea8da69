"""Series of values as they drift."""

from datetime import UTC, datetime, timedelta

BEGUN = datetime(2026, 5, 4, 7, 30, tzinfo=UTC)


def series(values, days=None, **more):
    days = range(len(values)) if days is None else days
    points = [
        {"t": (BEGUN + timedelta(days=float(d))).isoformat(), "value_mm": float(v), "u_mm": 0.001}
        for d, v in zip(days, values, strict=True)
    ]
    last = BEGUN + timedelta(days=float(max(days)))
    return {"format": "nonna-series/1", "points": points, "now": (last + timedelta(days=1)).isoformat(), **more}
