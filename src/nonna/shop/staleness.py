"""Which links hold: judged from records, events and due dates alone."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from enum import StrEnum

from nonna.shop.events import BY_NAME, DAILY, DAILY_BREAKS
from nonna.shop.history import Entry, latest
from nonna.shop.links import LINKS, NOTICE_DAYS, Link, upstream


class State(StrEnum):
    """What can be said of a link, in a word."""

    HOLDS = "holds"
    DUE = "due"
    BROKEN = "broken"
    NEVER = "never"


@dataclass(frozen=True, slots=True)
class LinkState:
    """A link's state with its reason."""

    link: Link
    state: State
    reason: str
    entry: Entry | None = None
    cause: str = ""  #: key of the link above that broke it, "" when its own
    subjects: tuple[tuple[str, State], ...] = ()  #: for tools: each tool
    detail: str = ""  #: why, where the reason only counts


@dataclass(frozen=True, slots=True)
class MasterDue:
    """A master a link rests on and its due date."""

    name: str
    due: date | None
    id: str = ""


@dataclass(frozen=True, slots=True)
class Facts:
    """All that the state of a machine's loop follows from."""

    entries: Sequence[Entry]  #: standing ones of one machine, oldest first
    tools: Sequence[str]  #: such as "T4"
    masters: Mapping[str, MasterDue]  #: by kind: the one each link of that kind rests on
    now: datetime


def judge(facts: Facts) -> tuple[LinkState, ...]:
    """Return the state of every link, in the order of the loop."""
    states: dict[str, LinkState] = {}
    for link in LINKS:
        above = [states[key] for key in link.hangs_on]
        if link.key == "master":
            states[link.key] = _master(link, facts)
        elif link.key == "tools":
            states[link.key] = _tools(link, facts, above)
        else:
            entry = latest(facts.entries, link.procedure, link.subject)
            states[link.key] = _measured(link, entry, facts, above)
    return tuple(states.values())


def _master(link: Link, facts: Facts) -> LinkState:
    master = facts.masters.get(link.master_kind)
    if master is None:
        return LinkState(link, State.NEVER, "no master on the shelf")
    recalled = _recall(master, facts)
    if recalled is not None:
        return LinkState(link, State.BROKEN, f"recalled {_day(recalled.signed_at, facts.now)}", recalled)
    if master.due is None:
        return LinkState(link, State.HOLDS, "no due date")
    left = (master.due - facts.now.date()).days
    if left < 0:
        return LinkState(link, State.BROKEN, f"ran out {_count(-left)} ago")
    if left <= 3 * NOTICE_DAYS:
        return LinkState(link, State.DUE, f"ends in {_count(left)}")
    return LinkState(link, State.HOLDS, f"good to {master.due:%d %b %Y}")


def _recall(master: MasterDue, facts: Facts) -> Entry | None:
    """Return the recall of a master that no later calibration has made good, or None."""
    found = None
    for entry in facts.entries:
        if entry.kind == "event" and entry.subject in (master.id, "Setter", ""):
            if entry.name == "master-recalled":
                found = entry
            elif entry.name == "master-calibrated":
                found = None
    return found


def _measured(link: Link, entry: Entry | None, facts: Facts, above: Sequence[LinkState]) -> LinkState:
    if entry is None:
        return LinkState(link, State.NEVER, "not measured yet")
    event, through = _breaking(link, entry, facts)
    if event is not None:
        words = BY_NAME[event.name].words.lower() if event.name in BY_NAME else "daily check failed"
        return LinkState(link, State.BROKEN, f"{words} {_day(event.signed_at, facts.now)}", entry, through)
    own = facts.masters.get(link.master_kind)
    if own is not None and own.due is not None and own.due < facts.now.date():
        return LinkState(link, State.BROKEN, f"certificate of {own.name} ran out", entry)
    if entry.verdict == "fail":
        return LinkState(link, State.BROKEN, "last result is over its limit", entry)
    for upper in above:
        if upper.state in (State.BROKEN, State.NEVER):
            return LinkState(link, State.BROKEN, f"hangs on {upper.link.title.lower()}", entry, upper.link.key)
    return _by_age(link, entry, facts)


def _by_age(link: Link, entry: Entry, facts: Facts) -> LinkState:
    if entry.verdict == "undecided":
        return LinkState(link, State.DUE, "last result left it open", entry)
    ends = entry.signed_at + timedelta(days=link.holds_days)
    left = (ends.date() - facts.now.astimezone(ends.tzinfo).date()).days
    if left < 0:
        return LinkState(link, State.DUE, f"overdue by {_count(-left)}", entry)
    if left <= NOTICE_DAYS:
        return LinkState(link, State.DUE, f"due in {_count(left)}" if left else "due today", entry)
    return LinkState(link, State.HOLDS, _age(entry.signed_at, facts.now), entry)


def _breaking(link: Link, entry: Entry, facts: Facts) -> tuple[Entry | None, str]:
    """Return the first event since the record that breaks the link or one it hangs on."""
    chain = (link.key, *upstream(link.key))
    for event in facts.entries:
        if event.number < entry.number:
            continue
        if event.subject.startswith("T") and link.key == "tools" and event.subject != entry.subject:
            continue
        hit = _breaks(event, facts)
        broken = [key for key in chain if key in hit]
        if broken:
            return event, "" if broken[0] == link.key else broken[0]
    return None, ""


def _breaks(event: Entry, facts: Facts) -> Collection[str]:
    """Return the links that a record breaks by itself."""
    if event.kind == "measurement":
        return DAILY_BREAKS if event.subject == DAILY and event.verdict == "fail" else ()
    if event.kind != "event" or event.name not in BY_NAME:
        return ()
    if event.name != "master-recalled":
        return BY_NAME[event.name].breaks
    kinds = {kind for kind, master in facts.masters.items() if _recall(master, facts) is event}
    return [link.key for link in LINKS if link.master_kind in kinds]


def _tools(link: Link, facts: Facts, above: Sequence[LinkState]) -> LinkState:
    each: list[LinkState] = []
    for tool in facts.tools:
        each.append(_measured(link, latest(facts.entries, link.procedure, tool), facts, above))
    if not each:
        return LinkState(link, State.NEVER, "no tools in the table")
    order = (State.BROKEN, State.NEVER, State.DUE, State.HOLDS)
    worst = min((s.state for s in each), key=order.index)
    bad = sum(s.state is not State.HOLDS for s in each)
    first = next(s for s in each if s.state is worst)
    reason = f"all {len(each)} hold" if not bad else f"{bad} of {len(each)} to measure"
    newest = max((s.entry for s in each if s.entry), key=lambda e: e.number, default=None)
    subjects = tuple((tool, s.state) for tool, s in zip(facts.tools, each, strict=True))
    return LinkState(link, worst, reason, newest, first.cause, subjects, first.reason if bad else "")


def _count(days: int) -> str:
    return f"{days} day" + ("" if days == 1 else "s")


def _age(then: datetime, now: datetime) -> str:
    days = (now.date() - then.astimezone(now.tzinfo).date()).days
    return "today" if days <= 0 else f"{_count(days)} ago"


def _day(then: datetime, now: datetime) -> str:
    local = then.astimezone(now.tzinfo)
    days = (now.date() - local.date()).days
    if days <= 0:
        return f"today {local:%H:%M}"
    return f"{local:%a}" if days < 7 else f"{local:%d %b}"


@dataclass(frozen=True, slots=True)
class Job:
    """One thing to do next."""

    link: Link
    words: str
    minutes: float
    reason: str
    subjects: tuple[str, ...] = ()
    can_wait: bool = False


def next_jobs(states: Sequence[LinkState], learned: Mapping[str, float] | None = None) -> tuple[Job, ...]:
    """Return the least work that mends the loop, in the order the links hang on each other.

    Parameters: learned, minutes by procedure from the technician's own times, where there are enough.
    """
    times = learned or {}
    jobs: list[Job] = []
    for state in states:
        if state.state is State.HOLDS or (state.link.key == "master" and state.state is State.NEVER):
            continue
        wait = state.state is State.DUE and not state.reason.startswith(("overdue", "last"))
        if state.link.key == "tools":
            todo = tuple(s for s, each in state.subjects if each is not State.HOLDS)
            names = " ".join(todo[:5]) + (" …" if len(todo) > 5 else "")
            minutes = times.get(state.link.procedure, state.link.minutes) * len(todo)
            jobs.append(Job(state.link, f"Tools {names}", minutes, state.detail, todo, wait))
        else:
            minutes = times.get(state.link.procedure, state.link.minutes)
            jobs.append(Job(state.link, state.link.job, minutes, state.reason, (), wait))
    return tuple(jobs)


def headline(states: Sequence[LinkState]) -> str:
    """Say the state of the loop in one sentence."""
    counts = {state: sum(s.state is state for s in states) for state in State}
    if counts[State.HOLDS] == len(states):
        return "The loop is closed: every link holds."
    words = {State.HOLDS: ("holds", "hold"), State.BROKEN: ("is broken", "are broken")}
    words |= {State.DUE: ("is due", "are due"), State.NEVER: ("was never done", "were never done")}
    parts = [
        f"{_count_word(n)} {'link ' if n == 1 and i == 0 else 'links ' if i == 0 else ''}{words[state][n != 1]}"
        for i, (state, n) in enumerate((s, c) for s, c in counts.items() if c)
    ]
    return f"{', '.join(parts)}.".capitalize()


def _count_word(n: int) -> str:
    return _NUMBERS[n] if n < len(_NUMBERS) else str(n)


_NUMBERS = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten")


def cause(states: Sequence[LinkState]) -> str:
    """Say in one line what the trouble comes from, or how things stand when there is none."""
    lost = {s.link.key for s in states if s.state in (State.BROKEN, State.NEVER)}
    for state in states:
        if state.state is State.BROKEN and state.cause not in lost:
            own = [s.link.title.lower() for s in states if s.reason == state.reason and not s.cause and s is not state]
            hanging = [s.link.title.lower() for s in states if s.link.key in lost and s.cause]
            tail = f" What hangs on it: {', '.join(hanging)}." if hanging else ""
            if any(state.reason.startswith(kind.words.lower()) for kind in BY_NAME.values()):
                broken = ", ".join([state.link.title.lower(), *own])
                return f"{state.reason[0].upper()}{state.reason[1:]}: it broke {broken}.{tail}"
            return f"{_named(state)}.{tail}"
    for state in states:
        if state.state is not State.HOLDS:
            return f"{_named(state)}."
    return "Nothing to do."


def _named(state: LinkState) -> str:
    words = f"{state.reason}, {state.detail}" if state.detail else state.reason
    if words.startswith(state.link.title.lower()):
        return words[0].upper() + words[1:]
    return f"{state.link.title}: {words}"
