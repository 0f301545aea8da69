"""Every command of the desk as data: id, words, default keys, what it is good for. Menu, palette and help agree."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from nonna.desk.commands.ids import CommandId
from nonna.desk.commands.page import on_rail


class CommandGroup(StrEnum):
    """Where a command stands in the menu."""

    GO = "Go to"
    SHEET = "This sheet"
    TOOLS = "Tools"
    SHOP = "Shop and book"
    PRACTISE = "Practise"
    DESK = "Desk"


@dataclass(frozen=True, slots=True)
class Command:
    """One command."""

    do: str  #: a `CommandId`, or the key of a page that is gone to
    words: str
    keys: str
    group: CommandGroup
    help: str
    on: tuple[str, ...] = ()  #: topics of the pages it does something on; () for all

    def holds(self, topic: str) -> bool:
        """Whether it does something on a page."""
        return not self.on or topic in self.on


_G, _S, _T, _B, _P, _D = CommandGroup
_SHEET, _BOTH = ("sheet",), ("sheet", "tools")
_LISTED = (
    Command(CommandId.ROUND, "Start the round: all that the loop needs now", "", _G,
        "Opens the sheets of all that is due, one after the other, in the order that mends most."),
    Command(CommandId.DAILY, "Daily check: one touch of the master", "F11", _G,
        "One touch of the master proves the setter, or trips it, before the first part."),
    Command(CommandId.WHAT_IF, "What if a link were done better?", "Ctrl+W", _G,
        "Shows what lengths and diameters would be good for with a better link."),
    Command(CommandId.BENCH_LIST, "Write the bench list of the next jobs", "", _B,
        "The next jobs with minutes and what to fetch, on a sheet of paper."),
    Command(CommandId.LABELS, "Write labels for the measured tools", "", _T,
        "A label a tool with its length, doubt and record, for its holder."),
    Command(CommandId.POCKETS, "Write the places of the rack's pockets (CSV, JSON)", "", _B,
        "Where each pocket of the rack stands, before and now, for the control."),
    Command(CommandId.UNITS, "Millimetres or inches", "F5", _D,
        "Changes what is shown, never what is stored. An entry may carry its own unit: 0.2in, 5um."),
    Command(CommandId.THEME, "Light or dark", "F6", _D, "Dark for a dim hall, light for a bright one."),
    Command(CommandId.STANDIN, "Take readings from the stand-in machine", "F7", _S,
        "The simulated machine measures. In a real shop it only rehearses: nothing of it can be signed.", _BOTH),
    Command(CommandId.LIVE, "Read the indicator live, tools from the presetter, or stop", "F12", _S,
        "The dial on the screen follows the indicator; its button or Enter takes a reading.", _BOTH),
    Command(CommandId.INDICATOR, "Say where the live indicator is", "", _D,
        "A serial port or a socket; its card on the shelf has the rest."),
    Command(CommandId.HIDE_FAULT, "Practise: hide a fault in the stand-in", "", _P,
        "Something goes wrong with the simulated machine. Find it by measuring."),
    Command(CommandId.SHOW_FAULT, "Practise: mend the fault and say what it was", "", _P,
        "Says what was wrong, and puts it right."),
    Command(CommandId.FILE, "Take readings from a file", "F8", _S,
        "A readings file, or the results a machine wrote.", _BOTH),
    Command(CommandId.SETUP, "Show or hide what this sheet starts from", "F9", _S,
        "Limits, masters and what was carried from earlier records, to be looked at and changed.", _SHEET),
    Command(CommandId.STRIKE, "Strike out the last reading", "", _S,
        "It stays on the tape, crossed out with its reason, and no longer counts.", _SHEET),
    Command(CommandId.UNDO, "Undo, or bring back what was thrown away", "Ctrl+Z", _S,
        "Step by step, until the record is signed."),
    Command(CommandId.REDO, "Do again what was undone", "Ctrl+Y", _S, "The way forward again.", _BOTH),
    Command(CommandId.FIND, "Find a command", "Ctrl+K", _D,
        "Type a few letters of what you want: commands, sheets, events, help."),
    Command(CommandId.CERTIFICATE, "Write the certificate of the record chosen in the book", "Ctrl+P", _B,
        "As PDF, or as XML where the name ends so."),
    Command(CommandId.WRITE_TABLE, "Write the tool table", "Ctrl+S", _T,
        "As CSV, JSON or XML; what changes is shown before anything is written."),
    Command(CommandId.TRAY_TAKE, "Tools: take a table in (CSV, JSON, XML)", "Ctrl+I", _T,
        "Columns in any order; which holds what is asked once."),
    Command(CommandId.TRAY_PASTE, "Tools: paste rows of a spreadsheet", "Ctrl+V", _T,
        "With a line of headers or without; which column holds what is asked once."),
    Command(CommandId.TRAY_GRID, "Tools: type them in a grid", "Ctrl+G", _T,
        "All tools in rows, as in a spreadsheet; what is wrong is said cell by cell."),
    Command(CommandId.TRAY_MARK, "Tools: mark all that are shown, or none", "Ctrl+A", _T,
        "What is marked is planned. Space marks one."),
    Command(CommandId.TRAY_MARK_OPEN, "Tools: mark those that do not hold (U)", "", _T,
        "Those never measured, and those an event broke."),
    Command(CommandId.TRAY_FIND, "Find in the book, or tools by words or numbers such as 2-9, 14", "Ctrl+F", _T,
        "Only what holds every word typed stays in sight."),
    Command(CommandId.TRAY_ADD, "Tools: add one (N)", "", _T,
        "A new tool: number, kind and diameter are enough to begin with."),
    Command(CommandId.TRAY_EDIT, "Tools: edit the one under the cursor (E)", "", _T,
        "Its card: what it is, how long it may be, what holds it."),
    Command(CommandId.TRAY_TOUCH, "Tools: decide by hand how it is touched (O)", "", _T,
        "Overrules what was chosen for its kind, with a reason that is kept."),
    Command(CommandId.TRAY_JOB, "Tools: touches, accuracy, dialect, after a failure", "Ctrl+J", _T,
        "What holds for all marked tools."),
    Command(CommandId.TRAY_REHEARSAL, "Tools: program and rehearsal", "Ctrl+R", _T,
        "The program line by line beside the path it takes, at every length a tool may have."),
    Command(CommandId.TRAY_PROGRAM, "Tools: write the program", "Ctrl+E", _T, "Exactly the text that was rehearsed."),
    Command(CommandId.TRAY_OPEN_PROGRAM, "Tools: rehearse any program", "", _T,
        "Somebody else's program on your machine with your tools, before metal moves."),
    Command(CommandId.TRAY_RESULTS, "Tools: read results of the machine (F8)", "", _T,
        "A CSV, JSON or log that your machine wrote, judged as if it had been measured here."),
    Command(CommandId.TRAY_BY_HAND, "Tools: measure by hand, sheet by sheet (H)", "", _T,
        "For machines that cannot run a measuring program."),
    Command(CommandId.TRAY_PIECE, "Tools: piece for a part program, on the clipboard", "", _T,
        "Measures or checks one tool in the middle of your own program."),
    Command(CommandId.TRAY_LENGTHS, "Tools: lengths from a reference tool or the probe; lathe offsets", "Ctrl+L", _T,
        "The same lengths counted from elsewhere, with what that does to the doubt."),
    Command(CommandId.TRAY_CHECKS, "Tools: where do breakage checks pay?", "", _T,
        "The set of checks that costs least over a job, beside none and all."),
    Command(CommandId.TRAY_STORE, "Tools: store in the control's own table", "Ctrl+T", _T,
        "A program that stores what was signed, reads it back and prints it; the card of the control says how."),
    Command(CommandId.TRAY_PUT_BACK, "Tools: put back what the control held before", "", _T,
        "A program that stores the values again that the last one kept."),
    Command(CommandId.TRAY_WAYS, "Tools: presetter or setter, which way? (W)", "", _T,
        "Which tools may come from the presetter and still be good enough, and the minutes that saves."),
    Command(CommandId.TRAY_FEEDS, "Tools: safe feeds, worked out", "", _T,
        "How fast the fast touch may be and how slow the slow one must be, with the reason."),
    Command(CommandId.WEAR, "Lathe: the wear column, what the parts say", "", _T,
        "Old and new wear of each tool whose part was measured; written with Enter, taken back with Backspace."),
    Command(CommandId.TRAY_TEMPLATES, "Tools: try the shop's program templates", "", _T,
        "Each template is written and rehearsed before it is used."),
    Command(CommandId.TRAY_CLEAR, "Tools: forget all lengths but the probe's", "", _T,
        "After a move or a new spindle. Ctrl+Z brings them back."),
    Command(CommandId.TRAY_SPOIL, "Practise: break a tool on the stand-in, or pull one out", "", _P,
        "To see what a breakage check says then."),
    Command(CommandId.VERIFY, "Check the chain of records", "", _B,
        "Every record is read and its hash worked out again; the first damaged one is named."),
    Command(CommandId.CARDS_OUTSIDE, "Cards changed outside the desk", "", _B,
        "What stands in the shop's files otherwise than it was signed last; taken over or put back, both signed."),
    Command(CommandId.OPERATOR, "Change who signs", "", _B, "The name under the next record."),
    Command(CommandId.MACHINE, "Show another machine", "", _B,
        "Another station of this shop; what is unsigned waits on its own."),
    Command(CommandId.ASK_MACHINE, "What the machine is still asked", "", _B,
        "The figures nobody could give when it was set up, one a page: where its setter stands, how fast it moves."),
    Command(CommandId.COPY_SHOP, "Copy the shop to a folder or stick", "", _B,
        "A dated copy, proved by opening it; the last ten are kept. The shop may stay open."),
    Command(CommandId.RESTORE, "Restore a shop from a copy", "", _B,
        "Shows what is in the copy, then makes a shop of it in a new folder. Nothing is written over."),
    Command(CommandId.OPEN_SHOP, "Open a shop folder", "Ctrl+O", _B, "Another shop in this window."),
    Command(CommandId.TAKE_UP, "Take up the sheet that waits unsigned (Esc)", "", _S, "It is where it was left."),
    Command(CommandId.THROW_AWAY, "Throw this sheet's readings away", "Ctrl+Shift+Del", _S,
        "Asked once; Ctrl+Z brings them back."),
    Command(CommandId.HELP, "Help on what is in front", "F1", _D,
        "What this page or field is, why it is done, how the hands do it, what goes wrong."),
    Command(CommandId.SETTINGS, "Settings", "Ctrl+,", _D,
        "Units, colours, who signs; the shop's limits and rules; how long links hold and who is told."),
    Command(CommandId.MENU, "Open the menu", "Alt+M", _D, "Everything by mouse, ordered."),
    Command(CommandId.KEYS, "The keys of this page", "?", _D, "All keys that do something here."),
    Command(CommandId.BACK, "Back", "Esc", _G, "One step back: out of a sheet, out of a dialog, to the loop."),
    Command(CommandId.QUIT, "Quit", "Ctrl+Q", _D, "Unsigned sheets are kept and taken up at the next start."),
)  # fmt: skip


def commands() -> tuple[Command, ...]:
    """Return all of them, to the pages first."""
    return (*(Command(page.key, page.go, page.shortcut, CommandGroup.GO, page.help) for page in on_rail()), *_LISTED)
