"""Every command of the desk as data: id, words, default keys. Menu, palette and help agree."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class Do(StrEnum):
    """What can be asked for."""

    LOOP = "loop"
    TOOLS = "tools"
    BOOK = "book"
    SHELF = "shelf"
    DAILY = "daily"
    ROUND = "round"
    WHAT_IF = "what-if"
    BENCH_LIST = "bench-list"
    LIVE = "live"
    INDICATOR = "indicator"
    HIDE_FAULT = "hide-fault"
    SHOW_FAULT = "show-fault"
    UNITS = "units"
    THEME = "theme"
    FIND = "find"
    UNDO = "undo"
    STANDIN = "standin"
    FILE = "file"
    SETUP = "setup"
    STRIKE = "strike"
    BACK = "back"
    OPERATOR = "operator"
    OPEN_SHOP = "open-shop"
    CERTIFICATE = "certificate"
    WRITE_TABLE = "write-table"
    VERIFY = "verify"
    QUIT = "quit"


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
    Command(Do.UNITS, "Millimetres or inches", "F5"),
    Command(Do.THEME, "Light or dark", "F6"),
    Command(Do.STANDIN, "Take readings from the stand-in machine", "F7"),
    Command(Do.LIVE, "Read the indicator live, or stop reading it", "F12"),
    Command(Do.INDICATOR, "Say where the live indicator is", ""),
    Command(Do.HIDE_FAULT, "Practise: hide a fault in the stand-in", ""),
    Command(Do.SHOW_FAULT, "Practise: mend the fault and say what it was", ""),
    Command(Do.FILE, "Take readings from a file", "F8"),
    Command(Do.SETUP, "Show or hide what this sheet starts from", "F9"),
    Command(Do.STRIKE, "Strike out the last reading", ""),
    Command(Do.UNDO, "Undo on this sheet", "Ctrl+Z"),
    Command(Do.FIND, "Find a command", "Ctrl+K"),
    Command(Do.CERTIFICATE, "Write the certificate of the record chosen in the book", "Ctrl+P"),
    Command(Do.WRITE_TABLE, "Write the tool table", "Ctrl+S"),
    Command(Do.VERIFY, "Check the chain of records", ""),
    Command(Do.OPERATOR, "Change who signs", ""),
    Command(Do.OPEN_SHOP, "Open a shop folder", "Ctrl+O"),
    Command(Do.BACK, "Back", "Esc"),
    Command(Do.QUIT, "Quit", "Ctrl+Q"),
)
