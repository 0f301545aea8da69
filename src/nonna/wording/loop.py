"""How things stand with a loop, in words."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

SENTENCES = {
    "no-master": "no master on the shelf",
    "recalled": "recalled {at:day}",
    "no-due-date": "no due date",
    "ran-out": "ran out {days:days} ago",
    "ends": "ends in {days:days}",
    "good-to": "good to {due:date}",
    "not-measured": "not measured yet",
    "event": "{event:lower} {at:day}",
    "check-failed": "daily check failed {at:day}",
    "certificate-ran-out": "certificate of {master} ran out",
    "over-limit": "last result is over its limit",
    "hangs-on": "hangs on {link:lower}",
    "left-open": "last result left it open",
    "overdue": "overdue by {days:days}",
    "due": "due in {days:days}",
    "due-today": "due today",
    "age": "{days:days} ago",
    "of-today": "today",
    "no-tools": "no tools in the table",
    "all-hold": "all {all} hold",
    "every-load": "measured at every load",
    "service-days": "{count:0f} of {limit:0f} days",
    "service-changes": "{count:0f} of {limit:0f} changes",
    "service-hours": "{count:0f} of {limit:0f} hours",
    "some-open": "{open} of {all} to measure",
}

_STATES = {
    "holds": ("holds", "hold"), "due": ("is due", "are due"), "broken": ("is broken", "are broken"),
    "never": ("was never done", "were never done"),
}  # fmt: skip
_NUMBERS = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten")
NAMED_AT_ONCE = 5


def headline(counts: Mapping[str, int]) -> str:
    """Say the state of a loop in one sentence. Parameters: counts, links by state (``holds``, ``due`` ...), in
    order.
    """
    if {name for name, n in counts.items() if n} <= {"holds"}:
        return "The loop is closed: every link holds."
    parts = [
        f"{_number(n)} {'link ' if n == 1 and i == 0 else 'links ' if i == 0 else ''}{_STATES[state][n != 1]}"
        for i, (state, n) in enumerate((s, c) for s, c in counts.items() if c)
    ]
    return f"{', '.join(parts)}.".capitalize()


def cause(title: str, reason: str, detail: str, event: bool, alike: Sequence[str], hanging: Sequence[str]) -> str:
    """Say in one line what the trouble comes from.

    Parameters: title and reason of the link it begins at, detail ("" without); event, whether something that happened
    broke it; alike, titles of what it broke as well; hanging, of what hangs on it.
    """
    tail = f" What hangs on it: {', '.join(t.lower() for t in hanging)}." if hanging else ""
    if event:
        broken = ", ".join(t.lower() for t in (title, *alike))
        return f"{reason[:1].upper()}{reason[1:]}: it broke {broken}.{tail}"
    words = f"{reason}, {detail}" if detail else reason
    if words.startswith(title.lower()):
        return f"{words[:1].upper()}{words[1:]}.{tail}"
    return f"{title}: {words}.{tail}"


def job(title: str, subjects: Sequence[str]) -> str:
    """Say what a job is called; for tools, which."""
    if not subjects:
        return title
    more = "\u00a0…" if len(subjects) > NAMED_AT_ONCE else ""  # never on a line of its own
    return f"{title} {' '.join(subjects[:NAMED_AT_ONCE])}{more}"


def _number(n: int) -> str:
    return _NUMBERS[n] if n < len(_NUMBERS) else str(n)
