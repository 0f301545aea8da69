"""The loop of a stand-in control: waits for programs, runs them, prints, keeps its tables on the disk."""

from __future__ import annotations

import json
import signal
import sys
import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from types import FrameType

from nonna.adapters.files.reading import read_bytes
from nonna.adapters.files.safe_write import write_text
from nonna.adapters.standin_control.cable import Cable
from nonna.adapters.standin_control.drop_folder import DropFolder
from nonna.adapters.standin_control.faults import Faults
from nonna.errors import NonnaError
from nonna.programs.language.dialect import Dialect
from nonna.shop.cards.control_tables import ControlTablesFile
from nonna.shop.cards.machine import Machine
from nonna.shop.texts import strict_json
from nonna.shop.texts.strict_model import checked
from nonna.standin.control import AlarmError, StandinControl
from nonna.stations.tool_program import Standin

DEAD = 9  #: exit status of a control that went dark in the middle of a program
LOOK_S = 0.05  #: between two looks at the folder
LONGEST_WAIT_S = 5.0  #: real seconds for one move of the machine


@dataclass(frozen=True, slots=True)
class ControlOrder:
    """What a stand-in control is started with."""

    machine: Machine
    dialect: Dialect
    begin: Callable[[int], Standin]  #: makes the machine for a run, by its number
    folder: Path
    first: ControlTablesFile  #: the tables where no file holds any yet
    listen: str = ""
    log: Path | None = None
    state: Path | None = None
    speed: float = 1.0  #: times real time
    seed: int = 0
    faults: str = ""


class _StoppedError(Exception):
    """Somebody switched the control off."""


class ControlProcess:
    """Runs until it is switched off."""

    def __init__(self, order: ControlOrder) -> None:
        self._order = order
        self._faults = Faults.of(order.faults, order.seed)
        if not order.folder.is_dir():
            raise NonnaError("unreadable", "--folder: there is no folder {name!r}.", "folder", name=order.folder.name)
        kept = order.first
        if order.state is not None and order.state.exists():
            kept = checked(ControlTablesFile, strict_json.loads(read_bytes(order.state)))
        self._first = self._faults.begun_with(kept)
        self._drop = DropFolder(order.folder)
        self._cable = Cable(order.listen, order.log)
        self._control = StandinControl(order.machine, order.dialect, self._first, forgets=self._faults.forgets())
        self.stored(self._first)

    def serve(self, programs: int = 0) -> None:
        """Take programs until SIGTERM or SIGINT, or so many."""
        before = {each: signal.signal(each, _switched_off) for each in (signal.SIGTERM, signal.SIGINT)}
        told = {"folder": str(self._order.folder), "port": self._cable.port}
        print(json.dumps(told), flush=True)
        done = 0
        try:
            while not programs or done < programs:
                self._cable.accept()
                program = self._drop.look()
                if program is None:
                    time.sleep(LOOK_S)
                    continue
                done += 1
                self._take(program, done)
        except _StoppedError:
            return
        finally:
            for each, handler in before.items():
                signal.signal(each, handler)
            self._cable.close()

    def printed(self, line: str) -> None:
        """Send a line, as far as the cable lets it through."""
        self._live()
        for raw in self._faults.on_the_cable(line):
            self._cable.send(raw)

    def stored(self, tables: ControlTablesFile) -> None:
        """Write the tables to the disk."""
        if self._order.state is not None:
            write_text(self._order.state, json.dumps(tables.model_dump(exclude_none=True), indent=1) + "\n")

    def passed(self, seconds: float) -> None:
        """Take the time that the machine takes."""
        self._live()
        if self._order.speed > 0.0:
            time.sleep(min(seconds / self._order.speed, LONGEST_WAIT_S))

    def _live(self) -> None:
        if self._faults.dies_now():
            sys.exit(DEAD)

    def _take(self, program: Path, number: int) -> None:
        if "old-table" in self._faults.names:
            self._control.kept = self._first  # somebody loaded the table of last week again
        try:
            text = program.read_text("utf-8", "replace")
            machine = self._order.begin(number)
            self._control.turret = machine.turret
            self._control.run(text, machine.drive, self)
        except AlarmError as alarm:
            self.printed(f"alarm {alarm}")
        except OSError as error:
            self.printed(f"alarm {program.name}: {error.strerror}")
        for raw in self._faults.last_ones():
            self._cable.send(raw)


def _switched_off(number: int, frame: FrameType | None) -> None:
    del number, frame
    raise _StoppedError
