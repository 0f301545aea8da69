"""What keeps a window on the machine it shows, or open."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from nonna.desk.frame.open_sheets import OpenSheets
    from nonna.desk.frame.places import Places
    from nonna.desk.shop.machine_tables import MachineTables


def unfinished_for(places: Places, tables: MachineTables, sheets: OpenSheets, machine: str) -> str:
    """Say what is at work, or waits to be signed, for the machine shown; "" where it may be left."""
    tray = places.tray
    if tray is not None and (tray.busy or tray.tray.results):
        return f"The tray's results are of {machine}. Sign them, or throw them away with Ctrl+Z, first."
    if tray is not None and tray.arrivals.listening:
        return f"The presetter is listened to for {machine}. F12 in the tray stops it, then again."
    if places.storing:
        return "A card is on its way to the disk. One moment, then again."
    if tables.busy:
        return "A table is on its way to the disk. One moment, then again."
    if any(view.controller.running for view in sheets.all):
        return "The stand-in is at work for a sheet. Let it end, or stop it with Esc, first."
    if any(view.controller.signer.busy for view in sheets.all):
        return "A sheet is being signed. One moment, then again."
    return ""


def unfinished_at_close(tables: MachineTables, sheets: OpenSheets) -> str:
    """Say what is not done yet when a window is to be closed, "" where all is."""
    if tables.unwritten:
        return "What was changed in the tray is not written: the disk would not take it. The next change tries again."
    names = "; ".join(view.controller.session.procedure.title.lower() for view in sheets.unsigned)
    return f"Not signed yet: {names}. It is kept and taken up at the next start." if names else ""
