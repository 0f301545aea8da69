"""Every command of the desk as data: id, words, default keys. Menu, palette and help agree."""

from __future__ import annotations

from dataclasses import dataclass

from nonna.desk.do import Do


@dataclass(frozen=True, slots=True)
class Command:
    """One command."""

    do: Do
    words: str
    keys: str


COMMANDS = (
    Command(Do.LOOP, "Go to the loop", "F2"),
    Command(Do.TOOLS, "Go to the tools", "F3"),
    Command(Do.BOOK, "Go to the book", "F4"),
    Command(Do.SHELF, "Go to the shelf", "F10"),
    Command(Do.ROUND, "Start the round: all that the loop needs now", ""),
    Command(Do.DAILY, "Daily check: one touch of the master", "F11"),
    Command(Do.WHAT_IF, "What if a link were done better?", "Ctrl+W"),
    Command(Do.BENCH_LIST, "Write the bench list of the next jobs", ""),
    Command(Do.LABELS, "Write labels for the measured tools", ""),
    Command(Do.POCKETS, "Write the places of the rack's pockets (CSV, JSON)", ""),
    Command(Do.UNITS, "Millimetres or inches", "F5"),
    Command(Do.THEME, "Light or dark", "F6"),
    Command(Do.STANDIN, "Take readings from the stand-in machine", "F7"),
    Command(Do.LIVE, "Read the indicator live, tools from the presetter, or stop", "F12"),
    Command(Do.INDICATOR, "Say where the live indicator is", ""),
    Command(Do.HIDE_FAULT, "Practise: hide a fault in the stand-in", ""),
    Command(Do.SHOW_FAULT, "Practise: mend the fault and say what it was", ""),
    Command(Do.FILE, "Take readings from a file", "F8"),
    Command(Do.SETUP, "Show or hide what this sheet starts from", "F9"),
    Command(Do.STRIKE, "Strike out the last reading", ""),
    Command(Do.UNDO, "Undo on this sheet, or bring back what was thrown away", "Ctrl+Z"),
    Command(Do.REDO, "Do again what was undone", "Ctrl+Y"),
    Command(Do.FIND, "Find a command", "Ctrl+K"),
    Command(Do.CERTIFICATE, "Write the certificate of the record chosen in the book", "Ctrl+P"),
    Command(Do.WRITE_TABLE, "Write the tool table", "Ctrl+S"),
    Command(Do.TRAY_TAKE, "Tools: take a table in (CSV, JSON, XML)", "Ctrl+I"),
    Command(Do.TRAY_MARK, "Tools: mark all that are shown, or none", "Ctrl+A"),
    Command(Do.TRAY_MARK_OPEN, "Tools: mark those that do not hold (U)", ""),
    Command(Do.TRAY_FIND, "Find in the book, or tools by words or numbers such as 2-9, 14", "Ctrl+F"),
    Command(Do.TRAY_ADD, "Tools: add one (N)", ""),
    Command(Do.TRAY_EDIT, "Tools: edit the one under the cursor (E)", ""),
    Command(Do.TRAY_TOUCH, "Tools: decide by hand how it is touched (O)", ""),
    Command(Do.TRAY_JOB, "Tools: touches, accuracy, dialect, after a failure", "Ctrl+J"),
    Command(Do.TRAY_REHEARSAL, "Tools: program and rehearsal", "Ctrl+R"),
    Command(Do.TRAY_PROGRAM, "Tools: write the program", "Ctrl+E"),
    Command(Do.TRAY_OPEN_PROGRAM, "Tools: rehearse any program", ""),
    Command(Do.TRAY_RESULTS, "Tools: read results of the machine (F8)", ""),
    Command(Do.TRAY_BY_HAND, "Tools: measure by hand, sheet by sheet (H)", ""),
    Command(Do.TRAY_PIECE, "Tools: piece for a part program, on the clipboard", ""),
    Command(Do.TRAY_LENGTHS, "Tools: lengths from a reference tool or the probe", "Ctrl+L"),
    Command(Do.TRAY_CHECKS, "Tools: where do breakage checks pay?", ""),
    Command(Do.TRAY_WAYS, "Tools: presetter or setter, which way? (W)", ""),
    Command(Do.TRAY_FEEDS, "Tools: safe feeds, worked out", ""),
    Command(Do.TRAY_TEMPLATES, "Tools: try the shop's program templates", ""),
    Command(Do.TRAY_CLEAR, "Tools: forget all lengths but the probe's", ""),
    Command(Do.TRAY_SPOIL, "Practise: break a tool on the stand-in, or pull one out", ""),
    Command(Do.VERIFY, "Check the chain of records", ""),
    Command(Do.OPERATOR, "Change who signs", ""),
    Command(Do.MACHINE, "Show another machine", ""),
    Command(Do.OPEN_SHOP, "Open a shop folder", "Ctrl+O"),
    Command(Do.TAKE_UP, "Take up the sheet that waits unsigned (Esc)", ""),
    Command(Do.THROW_AWAY, "Throw this sheet's readings away", "Ctrl+Shift+Del"),
    Command(Do.BACK, "Back", "Esc"),
    Command(Do.QUIT, "Quit", "Ctrl+Q"),
)
