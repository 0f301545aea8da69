"""What is written for the pocket or for the control: lists, labels, tables."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from nonna import wiring
from nonna.bench.tables.labels import labels
from nonna.bench.tables.pockets import pockets_of, table_text
from nonna.desk.forms.file_dialog import ask_where
from nonna.desk.threads.work import behind
from nonna.errors import NonnaError

if TYPE_CHECKING:
    from nonna.desk.frame.window import DeskWindow


def ask_bench_list(window: DeskWindow) -> None:
    """Ask where the list of the next jobs shall go."""
    ask_where(window, "Bench list", "bench-list.pdf", "PDF (*.pdf)", lambda path: write_bench_list(window, path))


def write_bench_list(window: DeskWindow, path: Path) -> None:
    """Write the next jobs with minutes and what to fetch, for the pocket."""
    state = window.state
    if state is None:
        return
    title = f"{state.machine}, {state.shop}"
    behind(
        window,
        lambda: wiring.write_bench_list(path, title, state.jobs, state.fetched, state.kept),
        lambda _: window.tell(f"{path.name} written.", "good"),
        lambda error: window.tell(error.message, "bad"),
    )


def ask_labels(window: DeskWindow) -> None:
    """Ask where labels for the tools that hold shall go."""
    ask_where(window, "Tool labels", "tool-labels.pdf", "PDF (*.pdf)", lambda path: write_labels(window, path))


def write_labels(window: DeskWindow, path: Path) -> None:
    """Write a label for each tool whose length holds, behind the screen."""
    state, units = window.state, window.units
    if state is None:
        return

    def written() -> int:
        made = labels(state, state.results.read)
        if not made:
            raise NonnaError("missing-field", "No tool's length holds yet: measure them first, then print.", "tools")
        wiring.write_labels(path, made, f"{state.machine}, {state.shop}", units)
        return len(made)

    behind(
        window,
        written,
        lambda count: window.tell(f"{path.name} written: {count} labels.", "good"),
        lambda error: window.tell(error.message, "bad"),
    )


def ask_pockets(window: DeskWindow) -> None:
    """Ask where the places of the rack's pockets shall go."""
    kinds = "Tables (*.csv *.json)"
    ask_where(window, "Pockets of the rack", "pockets.csv", kinds, lambda path: write_pockets(window, path))


def write_pockets(window: DeskWindow, path: Path) -> None:
    """Write the places of the rack's pockets as they were measured last, behind the screen."""
    state = window.state
    if state is None:
        return

    def written() -> int:
        found = pockets_of(state.standing, state.results.read)
        wiring.write_text(path, table_text(found, path.suffix))
        return found.record

    behind(
        window,
        written,
        lambda record: window.tell(f"{path.name} written, from record {record}.", "good"),
        lambda error: window.tell(error.message, "bad"),
    )
