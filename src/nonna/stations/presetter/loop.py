"""The presetter's loop: links, and what can happen to it. It grows by a transfer to each machine of the shop."""

from __future__ import annotations

from dataclasses import replace

from nonna.procedures import offers
from nonna.procedures.listing import one_offering
from nonna.shop.links.fetched import DIAL, MASTER
from nonna.shop.links.loop import EventKind, Link, LinkSort, Loop
from nonna.shop.links.subjects import A_MASTER, A_TOOL, PRESETTER, SPINDLE, Subject, SubjectKind
from nonna.stations.kind import Around, kind_of

_CLOTH = "Lint-free cloth, taper wiper"
_LINKS = (
    Link("master", "Masters", "Send the masters for calibration", holds_days=365, minutes=0, branch="presetter",
         master_kind="master-tool", sort=LinkSort.CERTIFICATE),
    Link("runout", "Run-out", "Spindle run-out", "tip-runout", SPINDLE, (), 180, 6, (DIAL, MASTER), "presetter",
         shows="run-out"),
    Link("repeatability", "Repeatability", "Presetter repeatability", "repeatability", PRESETTER, ("runout",), 90, 5,
         (MASTER, _CLOTH), "presetter", shows="scatter, 2 s,"),
    Link("calibration", "Calibration", "Calibrate and prove it", "presetter-calibration", PRESETTER,
         ("master", "runout", "repeatability"), 60, 10, ("Three masters, short and long", _CLOTH), "presetter"),
    Link("tools", "Tools", "Tools", "presetter-tool", hangs_on=("calibration",), holds_days=30, minutes=1.0,
         fetch=("Brush for the tips",), branch="use", sort=LinkSort.EACH),
)  # fmt: skip
_EVERYTHING = ("runout", "repeatability", "calibration")
_EVENTS = (
    EventKind("dropped", "Presetter knocked or dropped", frozenset(_EVERYTHING), PRESETTER),
    EventKind("presetter-moved", "Presetter moved", frozenset({"repeatability", "calibration"}), PRESETTER),
    EventKind("sleeve-changed", "Adapter or taper sleeve changed", frozenset(_EVERYTHING), SPINDLE),
    EventKind("display-repaired", "Screen or scale repaired", frozenset({"repeatability", "calibration"}), PRESETTER),
    EventKind("cleaned", "Lens, lamp or taper cleaned", frozenset({"repeatability"}), PRESETTER),
    EventKind("temperature", "Temperature moved more than allowed", frozenset({"calibration"}), PRESETTER),
    EventKind("master-recalled", "Master recalled", frozenset({"master"}), A_MASTER),
    EventKind("master-calibrated", "Master back from calibration", frozenset(), A_MASTER),
    EventKind("tool-regripped", "Tool re-gripped", frozenset({"tools"}), A_TOOL),
    EventKind("insert-changed", "Insert changed", frozenset({"tools"}), A_TOOL),
    EventKind("rules-changed", "Limits or rules changed", by_hand=False),
)
LOOP = Loop({"presetter": "The presetter itself", "use": "What it is used for"}, _LINKS, _EVENTS)


def grown(loop: Loop, around: Around) -> Loop:
    """Return the loop with the transfer to each machine of the shop, before the tools."""
    links = list(loop.links)
    transfers = [
        Link(f"transfer-{name}", f"To {name}", f"Transfer to {name}", "presetter-transfer", transfer_to(name),
            ("calibration",),
             90, 15, ("Five tools, short to long",), "use", shows="next tool", like="transfer")
        for name, kind in around.machines
        if kind != "presetter" and _takes_lengths(kind)
    ]  # fmt: skip
    return replace(loop, links=(*links[:-1], *transfers, links[-1]))


def _takes_lengths(kind: str) -> bool:
    """Say whether machines of a kind take tools whose length a presetter measured."""
    each = kind_of(kind).loop.each
    return each is not None and one_offering(offers.FROM_PRESETTER) in each.also


def transfer_to(machine: str) -> Subject:
    """Return what a transfer to a machine is a record of."""
    return Subject(SubjectKind.STATION, machine)
