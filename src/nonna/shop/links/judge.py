"""Which links hold: judged from records, events and due dates alone. Reasons are codes with their facts, never
words.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from enum import StrEnum
from functools import cached_property
from typing import NamedTuple

from nonna.shop.links.history import Entry, Standing
from nonna.shop.links.loop import NOTICE_DAYS, Link, LinkSort, Loop
from nonna.shop.links.subjects import ANY, SETTER, Subject, SubjectKind, master
from nonna.shop.reason import Reason


class State(StrEnum):
    """What can be said of a link, in a word."""

    HOLDS = "holds"
    DUE = "due"
    BROKEN = "broken"
    NEVER = "never"


class LinkState(NamedTuple):
    """A link's state with its reason."""

    link: Link
    state: State
    reason: Reason
    entry: Entry | None = None
    cause: str = ""  #: key of the link above that broke it, "" when its own
    subjects: tuple[tuple[Subject, State], ...] = ()  #: of a link that is one for each tool: each tool
    detail: Reason | None = None  #: why, where the reason only counts


class MasterDue(NamedTuple):
    """A master a link rests on and its due date."""

    name: str
    due: date | None
    id: str = ""


@dataclass(frozen=True)
class Facts:
    """All that the state of a station's loop follows from."""

    loop: Loop
    entries: Standing
    tools: Sequence[Subject]
    masters: Mapping[str, MasterDue]  #: by kind: the one each link of that kind rests on
    now: datetime
    loose: frozenset[Subject] = frozenset()  #: tools whose holder does not come back to the same length

    @cached_property
    def breaking(self) -> tuple[tuple[Entry, frozenset[str]], ...]:
        """The records that break links by themselves, oldest first, and the links."""
        found = ((entry, frozenset(_breaks(entry, self))) for entry in self.entries)
        return tuple((entry, hit) for entry, hit in found if hit)


def judge(facts: Facts) -> tuple[LinkState, ...]:
    """Return the state of every link, in the order of the loop."""
    states: dict[str, LinkState] = {}
    for link in facts.loop.links:
        above = [states[key] for key in link.hangs_on]
        if link.sort is LinkSort.CERTIFICATE:
            states[link.key] = _certified(link, facts)
        elif link.sort is LinkSort.EACH:
            states[link.key] = _each(link, facts, above)
        else:
            entry = facts.entries.newest(link.procedures, link.subject)
            states[link.key] = _measured(link, entry, facts, above)
    return tuple(states.values())


def _certified(link: Link, facts: Facts) -> LinkState:
    card = facts.masters.get(link.master_kind)
    if card is None:
        return LinkState(link, State.NEVER, Reason("loop.no-master"))
    recalled = _recall(card, facts)
    if recalled is not None:
        return LinkState(link, State.BROKEN, Reason("loop.recalled", _when(recalled, facts)), recalled)
    if card.due is None:
        return LinkState(link, State.HOLDS, Reason("loop.no-due-date"))
    left = (card.due - facts.now.date()).days
    if left < 0:
        return LinkState(link, State.BROKEN, Reason("loop.ran-out", {"days": -left}))
    if left <= 3 * NOTICE_DAYS:
        return LinkState(link, State.DUE, Reason("loop.ends", {"days": left}))
    return LinkState(link, State.HOLDS, Reason("loop.good-to", {"due": card.due}))


def _recall(card: MasterDue, facts: Facts) -> Entry | None:
    """Return the recall of a master that no later calibration has made good, or None."""
    found = None
    for entry in facts.entries:
        if entry.kind == "event" and entry.subject in (master(card.id), SETTER, ANY):
            if entry.name == "master-recalled":
                found = entry
            elif entry.name == "master-calibrated":
                found = None
    return found


def _measured(link: Link, entry: Entry | None, facts: Facts, above: Sequence[LinkState]) -> LinkState:
    if entry is None:
        return LinkState(link, State.NEVER, Reason("loop.not-measured"))
    event, through = _breaking(link, entry, facts)
    if event is not None:
        known = facts.loop.event(event.name)
        reason = (
            Reason("loop.event", {"event": known.words, **_when(event, facts)})
            if known
            else Reason("loop.check-failed", _when(event, facts))
        )
        return LinkState(link, State.BROKEN, reason, entry, through)
    own = facts.masters.get(link.master_kind)
    if own is not None and own.due is not None and own.due < facts.now.date():
        return LinkState(link, State.BROKEN, Reason("loop.certificate-ran-out", {"master": own.name}), entry)
    if entry.verdict == "fail":
        return LinkState(link, State.BROKEN, Reason("loop.over-limit"), entry)
    for upper in above:
        if upper.state in (State.BROKEN, State.NEVER):
            reason = Reason("loop.hangs-on", {"link": upper.link.title})
            return LinkState(link, State.BROKEN, reason, entry, upper.link.key)
    return _by_age(link, entry, facts)


def _by_age(link: Link, entry: Entry, facts: Facts) -> LinkState:
    if entry.verdict == "undecided":
        return LinkState(link, State.DUE, Reason("loop.left-open"), entry)
    ends = entry.signed_at + timedelta(days=link.holds_days)
    left = (ends.date() - facts.now.astimezone(ends.tzinfo).date()).days
    if left < 0:
        return LinkState(link, State.DUE, Reason("loop.overdue", {"days": -left}), entry)
    if left <= NOTICE_DAYS:
        return LinkState(link, State.DUE, Reason("loop.due" if left else "loop.due-today", {"days": left}), entry)
    days = (facts.now.date() - entry.signed_at.astimezone(facts.now.tzinfo).date()).days
    return LinkState(link, State.HOLDS, Reason("loop.age" if days > 0 else "loop.of-today", {"days": days}), entry)


def _breaking(link: Link, entry: Entry, facts: Facts) -> tuple[Entry | None, str]:
    """Return the first event since the record that breaks the link or one it hangs on."""
    chain = (link.key, *facts.loop.upstream(link.key))
    for event, hit in facts.breaking:
        if event.number < entry.number:
            continue
        of_a_tool = event.subject.kind is SubjectKind.TOOL
        if of_a_tool and link.sort is LinkSort.EACH and event.subject != entry.subject:
            continue
        broken = [key for key in chain if key in hit]
        if broken:
            return event, "" if broken[0] == link.key else broken[0]
    return None, ""


def _breaks(event: Entry, facts: Facts) -> Collection[str]:
    """Return the links that a record breaks by itself."""
    if event.kind == "measurement":
        return facts.loop.trips.get(event.subject.kind, ()) if event.verdict == "fail" else ()
    known = facts.loop.event(event.name)
    if event.kind != "event" or known is None:
        return ()
    if event.name != "master-recalled":
        return known.breaks
    kinds = {kind for kind, card in facts.masters.items() if _recall(card, facts) is event}
    return [link.key for link in facts.loop.links if link.master_kind in kinds]


def _each(link: Link, facts: Facts, above: Sequence[LinkState]) -> LinkState:
    each: list[LinkState] = []
    for tool in facts.tools:
        found = _measured(link, facts.entries.newest(link.procedures, tool), facts, above)
        each.append(_taken_out(found, facts) if tool in facts.loose else found)
    if not each:
        return LinkState(link, State.NEVER, Reason("loop.no-tools"))
    order = (State.BROKEN, State.NEVER, State.DUE, State.HOLDS)
    worst = min((s.state for s in each), key=order.index)
    bad = sum(s.state is not State.HOLDS for s in each)
    first = next(s for s in each if s.state is worst)
    counts = {"open": bad, "all": len(each)}
    newest = max((s.entry for s in each if s.entry), key=lambda e: e.number, default=None)
    subjects = tuple((tool, s.state) for tool, s in zip(facts.tools, each, strict=True))
    reason = Reason("loop.some-open" if bad else "loop.all-hold", counts)
    return LinkState(link, worst, reason, newest, first.cause, subjects, first.reason if bad else None)


def _taken_out(state: LinkState, facts: Facts) -> LinkState:
    """Return the state of a tool that holds only as long as it stays in the spindle: until another was measured
    there.
    """
    newest, entry = facts.entries.newest(state.link.procedures), state.entry
    if state.state not in (State.HOLDS, State.DUE) or newest is None or entry is None or newest.number == entry.number:
        return state
    return state._replace(state=State.DUE, reason=Reason("loop.every-load"))


def _when(entry: Entry, facts: Facts) -> dict[str, object]:
    local = entry.signed_at.astimezone(facts.now.tzinfo)
    return {"at": local, "days": (facts.now.date() - local.date()).days}


class NextJob(NamedTuple):
    """One thing to do next."""

    link: Link
    minutes: float
    reason: Reason
    subjects: tuple[Subject, ...] = ()
    can_wait: bool = False


_PRESSING = ("loop.overdue", "loop.left-open")  #: due, and not to be put off


def next_jobs(states: Sequence[LinkState], learned: Mapping[str, float] | None = None) -> tuple[NextJob, ...]:
    """Return the least work that mends the loop, in the order the links hang on each other.

    Parameters: learned, minutes by procedure from the technician's own times, where there are enough.
    """
    times = learned or {}
    jobs: list[NextJob] = []
    for state in states:
        link = state.link
        if state.state is State.HOLDS or (link.sort is LinkSort.CERTIFICATE and state.state is State.NEVER):
            continue
        wait = state.state is State.DUE and state.reason.code not in _PRESSING
        minutes = times.get(link.procedure, link.minutes)
        if link.sort is LinkSort.EACH:
            todo = tuple(subject for subject, each in state.subjects if each is not State.HOLDS)
            jobs.append(NextJob(link, minutes * len(todo), state.detail or state.reason, todo, wait))
        else:
            jobs.append(NextJob(link, minutes, state.reason, (), wait))
    return tuple(jobs)


class Trouble(NamedTuple):
    """What the trouble comes from: a state, those broken by the very same, and those that hang on them."""

    state: LinkState | None  #: None where every link holds
    alike: tuple[Link, ...] = ()
    hanging: tuple[Link, ...] = ()


def trouble(states: Sequence[LinkState]) -> Trouble:
    """Return what all that does not hold comes from."""
    lost = {s.link.key for s in states if s.state in (State.BROKEN, State.NEVER)}
    for state in states:
        if state.state is State.BROKEN and state.cause not in lost:
            same = (s for s in states if s.reason == state.reason and not s.cause and s is not state)
            below = (s for s in states if s.link.key in lost and s.cause)
            return Trouble(state, tuple(s.link for s in same), tuple(s.link for s in below))
    return Trouble(next((s for s in states if s.state is not State.HOLDS), None))
