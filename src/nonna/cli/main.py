"""Words of the command line, and what runs each of them."""

from __future__ import annotations

import argparse
import contextlib
import gc
import os
import sys
from collections.abc import Callable, Sequence

from nonna import __version__
from nonna.bench.job.program_texts import USUAL_DIALECT
from nonna.errors import NonnaError

TYPE_CHECKING = False  # typing itself is slow to import, and help must be quick
if TYPE_CHECKING:
    from pathlib import Path
    from typing import Any

BAD_INPUT, DAMAGED = 2, 3
Command = Callable[[argparse.Namespace], int]


def _formatter(prog: str) -> argparse.HelpFormatter:
    """A given width: asking the terminal for it would import a third of what help needs."""
    return argparse.HelpFormatter(prog, width=100)


class _Parser(argparse.ArgumentParser):
    """Says what is wrong in one line, and ends with the same status as other bad input."""

    def __init__(self, **options: Any) -> None:
        super().__init__(formatter_class=_formatter, **options)

    def error(self, message: str) -> None:  # type: ignore[override]
        raise NonnaError(
            "wrong-format", "{upper}{value}. Try: nonna --help", upper=message[:1].upper(), value=message[1:]
        )


def _path(text: str) -> Path:
    from pathlib import Path  # late: help and version must be quick

    return Path(text)


def parser() -> argparse.ArgumentParser:
    """Return the parser of all commands."""
    top = _Parser(prog="nonna", description="Calibrate probes, setters and tools; keep records that hold up.")
    top.add_argument("--version", action="version", version=f"nonna {__version__}")
    top.add_argument("--demo", action="store_true", help="open the desk with the demo shop (a copy; spoil it freely)")
    top.add_argument("--shop", type=_path, metavar="DIR", help="open the desk with this shop folder")
    top.add_argument(
        "--tour-if-no-display", type=_path, metavar="DIR", help="without a display: run a guided tour into DIR"
    )
    commands = top.add_subparsers(dest="command", metavar="COMMAND", parser_class=_Parser)

    one = commands.add_parser("evaluate", help="a readings file in, a result out")
    one.add_argument("file", metavar="FILE", help="a readings file, or - for standard input")
    one.add_argument("--jsonl", action="store_true", help="a readings object a line in, a result or error a line out")

    one = commands.add_parser("drift", help="a series of one value over time in, steps, trend and the next date out")
    one.add_argument("file", metavar="FILE", help="a series file, or - for standard input")
    one.add_argument("--jsonl", action="store_true", help="a series a line in, an answer or error a line out")

    one = commands.add_parser("diagnose", help="what changed in, the fewest faults that explain it out")
    one.add_argument("file", metavar="FILE", help="an evidence file, or - for standard input")
    one.add_argument("--jsonl", action="store_true", help="evidence a line in, an answer or error a line out")

    one = commands.add_parser("record", help="evaluate a readings file and sign it into a shop's ledger")
    one.add_argument("file", metavar="FILE", help="a readings file, or - for standard input")
    one.add_argument("--shop", type=_path, required=True, metavar="DIR")
    one.add_argument("--operator", required=True, metavar="NAME")
    one.add_argument("--station", "--machine", default="", metavar="NAME", help="the station it was measured on")
    one.add_argument("--subject", default="", metavar="NAME", help="what was measured, such as T4")
    one.add_argument("--clock-is-right", action="store_true", help="though it is far from the last record's time")

    one = commands.add_parser("prepare", help="the readings file as a sheet would start it, with what is carried")
    one.add_argument("procedure", metavar="PROCEDURE")
    one.add_argument("--shop", type=_path, required=True, metavar="DIR")
    one.add_argument("--station", default="", metavar="NAME")
    one.add_argument("--subject", default="", metavar="NAME", help="what is measured, such as T4")

    one = commands.add_parser("loop", help="the loop of a station: its links, the next jobs, the weakest link")
    one.add_argument("--shop", type=_path, required=True, metavar="DIR")
    one.add_argument("--station", default="", metavar="NAME")

    one = commands.add_parser("plan", help="the measuring program for a tool list, with the reasons")
    one.add_argument("job", type=_path, metavar="JOB.json")
    one.add_argument("-o", "--output", type=_path, required=True, metavar="PROGRAM")
    one.add_argument("--dialect", default=USUAL_DIALECT)
    one.add_argument("--report", type=_path, metavar="PLAN.json", help="how each tool is touched, and why")
    one.add_argument(
        "--load", type=_path, metavar="RESULTS.json", help="instead: store results in the control's tables"
    )
    one.add_argument("--store", action="store_true", help="the program stores what lies inside its window (--dialect)")
    one.add_argument("--put-back", action="store_true", help="with --load: store again what that program kept")

    one = commands.add_parser("rehearse", help="run a program on the machine model: contacts, problems, times")
    one.add_argument("program", type=_path, metavar="PROGRAM")
    one.add_argument("--machine", type=_path, required=True, metavar="MACHINE.json")
    one.add_argument("--tools", type=_path, required=True, metavar="TOOLS.json")
    one.add_argument("--sweep", action="store_true", help="each tool also at its longest and shortest")
    one.add_argument("--dialect", default=USUAL_DIALECT)
    one.add_argument("--seed", type=int, default=0, metavar="N", help="of the touches' scatter")
    one.add_argument("--state", type=_path, metavar="FILE", help="the control's tables as they are")
    one.add_argument("--held", type=_path, metavar="PROBE.json", help="what the spindle holds at the start")
    one.add_argument("--piece", type=_path, metavar="PIECE", help="a piece for a part program, put in before a line")
    one.add_argument("--at", type=int, default=0, metavar="LINE", help="the line the piece is put before")

    one = commands.add_parser("standin", help="a control of its own: runs programs that appear in a folder, and prints")
    one.add_argument("--machine", type=_path, required=True, metavar="MACHINE.json")
    one.add_argument("--tools", type=_path, required=True, metavar="TOOLS.json")
    one.add_argument("--folder", type=_path, required=True, metavar="DIR", help="where programs are dropped")
    one.add_argument("--listen", default="", metavar="127.0.0.1:PORT", help="printed lines for whoever calls there")
    one.add_argument("--log", type=_path, metavar="FILE", help="every printed line")
    one.add_argument("--state", type=_path, metavar="FILE", help="its tables; written at every change")
    one.add_argument("--speed", type=float, default=1.0, metavar="N", help="times real time; 0: without waiting")
    one.add_argument("--seed", type=int, default=0, metavar="N", help="of scatter and faults")
    one.add_argument("--faults", default="", metavar="NAMES", help="double, shuffle, drop, cut, die, forget ...")

    one = commands.add_parser("results", help="the readings of a run, from the lines that its program printed")
    one.add_argument("file", metavar="FILE", help="the lines, others among them, in any order; or -")
    one.add_argument("--program", type=_path, required=True, metavar="PROGRAM", help="the program that ran")
    one.add_argument("--jsonl", action="store_true", help="a readings file a line, or the error")

    one = commands.add_parser("schema", help="the JSON Schema of a format or of a procedure's readings")
    one.add_argument("name", metavar="NAME", nargs="?", default="")

    one = commands.add_parser(
        "shop",
        help="set up, copy or restore a shop, lay the demo shop into a folder, or print what setting up a station asks",
    )
    one.add_argument("action", choices=("new", "demo", "questions", "copy", "look", "restore"))
    one.add_argument(
        "target",
        metavar="DIR|KIND",
        help="new, demo: an empty or missing folder; questions: mill, router ...; copy: where copies go; look, "
        "restore: a copy",
    )
    one.add_argument(
        "answers", nargs="?", default="", metavar="FILE|DIR", help="new: the answers, or -; restore: where to"
    )
    one.add_argument("--shop", type=_path, metavar="DIR", help="copy: the shop (else the usual one)")

    one = commands.add_parser("ledger", help="check, list, export or import a shop's records, or take one back")
    one.add_argument("action", choices=("verify", "list", "export", "import", "withdraw"))
    one.add_argument(
        "file",
        nargs="?",
        default="",
        metavar="FILE|N",
        help="import: a file of exported records, or -; withdraw: a record",
    )
    one.add_argument("--shop", type=_path, required=True, metavar="DIR")
    one.add_argument("--operator", default="", metavar="NAME", help="withdraw: who takes it back")
    one.add_argument("--why", default="", metavar="TEXT", help="withdraw: what was wrong with it")
    one.add_argument("--clock-is-right", action="store_true", help="withdraw: as for record")

    one = commands.add_parser("certificate", help="the calibration certificate of a record")
    one.add_argument("record", metavar="RECORD", help="its number, or the start of its hash")
    one.add_argument("-o", "--output", type=_path, required=True, metavar="FILE.pdf")
    one.add_argument("--shop", type=_path, metavar="DIR")
    return top


def run(arguments: Sequence[str], desk: Command) -> int:
    """Run one command and return its exit status; ``desk`` opens the window when no command is named."""
    try:
        given = parser().parse_args(arguments)
        status = desk(given) if given.command is None else _command(given.command)(given)
        sys.stdout.flush()
        return status
    except NonnaError as error:
        return _refused(error)
    except BrokenPipeError:
        raise  # somebody stopped listening: no business of ours
    except OSError as error:
        _let_go_of_output()
        return _refused(
            NonnaError("unreadable", "{file_of}: {value}.", file_of=_file_of(error), value=error.strerror or error)
        )


def _refused(error: NonnaError) -> int:
    """Say what is wrong, as an object and in one plain line; returns the exit status."""
    import json

    with contextlib.suppress(OSError):  # nobody reads any more, or the disk is full: the line on stderr still says it
        print(json.dumps(error.to_document()), flush=True)
    print(f"nonna: {' '.join(error.message.split())}".encode("ascii", "backslashreplace").decode(), file=sys.stderr)
    return DAMAGED if type(error).__name__ == "DamagedRecordError" else BAD_INPUT


def _file_of(error: OSError) -> str:
    name = os.fsdecode(error.filename) if error.filename else "the output"
    return f"{name[:60]!r}"


def _let_go_of_output() -> None:
    """Drop what cannot be written; flushing it would end in a traceback when Python goes."""
    with contextlib.suppress(OSError, ValueError):
        nowhere = os.open(os.devnull, os.O_WRONLY)
        os.dup2(nowhere, sys.stdout.fileno())
        os.close(nowhere)


def _command(name: str) -> Command:
    if name == "evaluate":
        # Import without what only costs time: the hunt for cycles, and the search for validation plug-ins.
        os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "__all__")
        was = gc.isenabled()
        gc.disable()
        try:
            from nonna.cli.evaluating import evaluate
        finally:
            if was:  # where a desk runs in this process, collecting is its own business
                gc.enable()
        return evaluate
    if name in ("drift", "diagnose"):
        from nonna.cli import evaluating

        return {"drift": evaluating.drift, "diagnose": evaluating.diagnose}[name]
    if name == "standin":
        from nonna.cli.standin import standin

        return standin
    if name == "schema":
        from nonna.cli.schemas import schema

        return schema
    if name in ("plan", "rehearse", "results"):
        from nonna.cli import planning

        return {"plan": planning.plan, "rehearse": planning.rehearse, "results": planning.results}[name]
    if name in ("prepare", "loop"):
        from nonna.cli import stations

        return {"prepare": stations.prepare, "loop": stations.loop}[name]
    if name == "shop":
        from nonna.cli.shops import shop

        return shop
    from nonna.cli import ledgers

    return {"record": ledgers.record, "ledger": ledgers.ledger, "certificate": ledgers.certificate}[name]
