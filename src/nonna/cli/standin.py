"""``nonna standin``: a control of its own, in this process, until it is switched off."""

from __future__ import annotations

import argparse

from nonna.bench.job.planning import program_of
from nonna.bench.job.program_texts import dialect_named
from nonna.cli.planning import read_model
from nonna.errors import NonnaError
from nonna.shop.cards.machine import Machine, Tools
from nonna.standin.first_tables import first_tables
from nonna.wiring import serve_control


def standin(given: argparse.Namespace) -> int:
    """Serve until SIGTERM. Raises: NonnaError (a file, a port, a fault that there is not)."""
    machine, tools = read_model(Machine, given.machine), read_model(Tools, given.tools)
    if not 0.0 <= given.speed <= 1e6:
        raise NonnaError("out-of-range", "--speed: 0 (no waiting) to 1,000,000 times real time.", "speed")
    program = program_of(machine)
    dialect = dialect_named(machine.control.dialect if machine.control is not None else "rs274")
    serve_control(
        machine, dialect, lambda run: program.standin(machine, tools, given.seed + run), given.folder,
        first_tables(machine, tools), listen=given.listen, log=given.log, state=given.state, speed=given.speed,
        seed=given.seed, faults=given.faults,
    )  # fmt: skip
    return 0
