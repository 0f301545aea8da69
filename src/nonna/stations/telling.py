"""A loop's states and jobs as sentences."""

from __future__ import annotations

from collections.abc import Sequence

from nonna.shop.links.judge import LinkState, NextJob, State, trouble
from nonna.shop.reason import Reason
from nonna.wording import loop
from nonna.wording.saying import say


def reason_words(reason: Reason | None) -> str:
    """Return a reason in words, "" for none."""
    return say(reason.code, reason.facts) if reason is not None else ""


def job_words(job: NextJob) -> str:
    """Return what a job is called."""
    return loop.job(job.link.job, [subject.words for subject in job.subjects])


def headline(states: Sequence[LinkState]) -> str:
    """Say the state of the loop in one sentence."""
    return loop.headline({state.value: sum(s.state is state for s in states) for state in State})


def cause(states: Sequence[LinkState]) -> str:
    """Say in one line what the trouble comes from, or how things stand when there is none."""
    found = trouble(states)
    state = found.state
    if state is None:
        return "Nothing to do."
    return loop.cause(
        state.link.title, reason_words(state.reason), reason_words(state.detail), state.reason.code == "loop.event",
        [link.title for link in found.alike], [link.title for link in found.hanging],
    )  # fmt: skip
