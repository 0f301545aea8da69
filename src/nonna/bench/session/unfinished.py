"""What keeps a window on the machine it shows, or open."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from nonna.bench.session.machine_tables import MachineTables
    from nonna.bench.session.sheet.open_sheet import OpenSheet
    from nonna.bench.session.tray.open_tray import OpenTray


def unfinished_for(
    tray: OpenTray | None, tables: MachineTables, sheets: Sequence[OpenSheet], machine: str, *, storing: bool
) -> str:
    """Say what is at work, or waits to be signed, for the machine shown; "" where it may be left.

    Parameters: storing, whether a card is on its way to the disk.
    """
    if tray is not None and (tray.busy or tray.tray.results):
        return f"The tray's results are of {machine}. Sign them, or throw them away with Ctrl+Z, first."
    if tray is not None and tray.arrivals.listening:
        return f"The presetter is listened to for {machine}. F12 in the tray stops it, then again."
    if storing:
        return "A card is on its way to the disk. One moment, then again."
    if tables.busy:
        return "A table is on its way to the disk. One moment, then again."
    if any(sheet.running for sheet in sheets):
        return "The stand-in is at work for a sheet. Let it end, or stop it with Esc, first."
    if any(sheet.signer.busy for sheet in sheets):
        return "A sheet is being signed. One moment, then again."
    return ""


def unfinished_at_close(tables: MachineTables, unsigned: Sequence[OpenSheet]) -> str:
    """Say what is not done yet when a window is to be closed, "" where all is."""
    if tables.unwritten:
        return "What was changed in the tray is not written: the disk would not take it. The next change tries again."
    names = "; ".join(sheet.session.procedure.title.lower() for sheet in unsigned)
    return f"Not signed yet: {names}. It is kept and taken up at the next start." if names else ""
