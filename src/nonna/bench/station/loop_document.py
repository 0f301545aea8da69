"""The loop of a station as an open document (``nonna-loop/1``)."""

from __future__ import annotations

from nonna.bench.station.state import ShopState
from nonna.shop.texts.given import Plain
from nonna.stations.telling import job_words, reason_words

FORMAT = "nonna-loop/1"


def to_document(state: ShopState) -> dict[str, Plain]:
    """Return the links with their states, the next jobs in order, and the weakest link."""
    weakest = state.weakest
    return {
        "format": FORMAT,
        "station": state.machine,
        "kind": state.file_kind,
        "links": [
            {
                "key": s.link.key,
                "title": s.link.title,
                "state": s.state.value,
                "reason": reason_words(s.reason),
                "record": s.entry.number if s.entry else None,
                "hangs_on": list(s.link.hangs_on),
            }
            for s in state.links
        ],
        "next": [{"link": job.link.key, "job": job_words(job), "minutes": job.minutes} for job in state.jobs],
        "weakest": {"link": weakest.link, "source": weakest.plain, "share": weakest.share} if weakest else None,
    }
