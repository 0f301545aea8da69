"""Looks up what a desk is going to ask, so that the records are read and checked before somebody waits for them."""

from __future__ import annotations

from collections.abc import Iterable

from nonna.bench.book.results_that_hold import HeldResults
from nonna.bench.book.shared_doubt import leaves
from nonna.bench.tray.offset_table import look_ahead
from nonna.procedures import offers
from nonna.procedures.catalogue import procedure
from nonna.procedures.listing import offering
from nonna.shop.links.subjects import ANY, Subject
from nonna.stations.kind import StationKind

_OF_THE_STATION = (offers.TRIGGER_PLANE, offers.PROBE_LENGTH, offers.TOUCH_SCATTER, offers.BREAKAGE_TOLERANCE)


def foresee(results: HeldResults, kind: StationKind, tools: Iterable[Subject]) -> None:
    """Have the records' reader know what plans and the tray's dialogs ask of a station and these tools.

    Notes: for a worker thread. Raises: NonnaError (a record that would be used is damaged).
    """
    wanted, subjects = [(*each, ANY) for offer in _OF_THE_STATION for each in offering(offer)], tuple(tools)
    if (each := kind.loop.each) is not None:
        wanted += [(each.procedure, name, tool) for name in procedure(each.procedure).main for tool in subjects]
    for measured_by, name, subject in wanted:
        held = results.held(measured_by, name, subject)
        if held is not None:
            leaves(held.record, name, results.read)
    look_ahead(results, kind, subjects)
