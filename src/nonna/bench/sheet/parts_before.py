"""The parts a tool cut before, as a part's sheet follows their process: newest first, back to where the process
began.
"""

from __future__ import annotations

from nonna.bench.book.results_that_hold import HeldResults
from nonna.shop.links.subjects import Subject, SubjectKind
from nonna.shop.records.values import as_measurement
from nonna.shop.texts.given import Given

MOST = 40  #: parts that are looked back upon
_ALL = (SubjectKind.STATION, SubjectKind.ANY)  #: what befell these befell every process of the machine


def parts_before(results: HeldResults, name: str) -> tuple[Given, ...]:
    """Return the parts that belong to a process still running; their setup, error and state as fields.

    A process begins anew with whatever befalls its tool or the machine, and with the tool's own record (its offsets
    are others then). Parts that name no tool belong to none. Raises: NonnaError (a record is damaged).
    """
    begun_anew: set[Subject] = set()
    found: list[Given] = []
    for entry in reversed(results.entries):
        if entry.befell and entry.subject.kind in _ALL:
            break
        if entry.subject.kind is SubjectKind.TOOL and (entry.befell or entry.kind != "event"):
            begun_anew.add(entry.subject)
        if entry.kind != "measurement" or entry.name != name or len(found) >= MOST:
            continue
        record = as_measurement(results.read(entry.number))
        tool, error = record.setup.word("tool"), record.row("error_mm")
        if not tool or record.setup.number("wear_mm") is None or Subject.of(tool) in begun_anew:
            continue  # what no wear is known of says nothing of the process without it
        if error is not None and error.u is not None:
            own = {"error_mm": error.value, "u_mm": error.u, "state": record.own().word("state")}
            found.append(Given({**record.setup, **own}))
    return tuple(found)
