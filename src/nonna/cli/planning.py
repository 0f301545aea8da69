"""``nonna plan`` and ``nonna rehearse``: programs made, and any program tried."""

from __future__ import annotations

import argparse
import json
from pathlib import Path
from secrets import token_hex
from typing import TypeVar

from nonna.bench.control.loading import load_plan, load_program
from nonna.bench.control.printed_results import readings_files
from nonna.bench.control.results_file import ResultsFile
from nonna.bench.job.program_texts import dialect_named, rehearsed, written
from nonna.cli.evaluating import read_input
from nonna.errors import NonnaError
from nonna.shop.cards.control_tables import ControlTablesFile
from nonna.shop.cards.job import Job
from nonna.shop.cards.machine import Machine, Tool, Tools
from nonna.shop.texts import strict_json
from nonna.shop.texts.strict_model import Strict, checked
from nonna.wiring import read_bytes, write_text

M = TypeVar("M", bound=Strict)


def plan(given: argparse.Namespace) -> int:
    """Plan a job and write its program and report. Raises: NonnaError."""
    document = strict_json.loads(read_bytes(given.job))
    job = checked(Job, document)
    if given.load is not None:
        return _load(given, job)
    if given.put_back:
        raise NonnaError("missing-field", "--put-back goes with --load RESULTS.json, the results it stored.", "load")
    made = written(_machine(job.machine, given.job), job, given.dialect, store=given.store)
    write_text(given.output, made.text)
    report = {
        "format": "nonna-plan/1",
        "seconds": made.seconds,
        "tools": [tool.to_document() for tool in made.tools],
    }
    if given.report is not None:
        write_text(given.report, json.dumps(report, ensure_ascii=False, indent=1) + "\n")
    refused = [tool.tool.number for tool in made.tools if tool.refused]
    print(json.dumps({"program": given.output.name, "seconds": made.seconds, "refused": refused}))
    return 0


def _load(given: argparse.Namespace, job: Job) -> int:
    """Write the program that stores results in the control's own tables. Raises: NonnaError."""
    machine, file = _machine(job.machine, given.job), read_model(ResultsFile, given.load)
    numbers = {tool.number for tool in job.tools}
    plan = load_plan(machine, numbers, file, token_hex(4).upper(), put_back=given.put_back)
    text = load_program(plan, jumps=dialect_named(given.dialect).jumps)
    write_text(given.output, text)
    stores = [row.asked for row in plan.rows]
    print(json.dumps({"program": given.output.name, "run": plan.run, "stores": stores, "by_hand": list(plan.by_hand)}))
    return 0


def results(given: argparse.Namespace) -> int:
    """Print the readings files of a run; with ``--jsonl`` status 1 where there is an error. Raises: NonnaError."""
    try:
        files = readings_files(read_input(given.file).decode("utf-8", "replace"), _text(given.program))
    except NonnaError as error:
        if not given.jsonl:
            raise
        print(json.dumps(error.to_document()))
        return 1
    if given.jsonl:
        print("".join(f"{json.dumps(file)}\n" for file in files), end="")
    else:
        print(json.dumps(files))
    return 0


def rehearse(given: argparse.Namespace) -> int:
    """Rehearse a program; status 3 when problems were found. Raises: NonnaError."""
    machine = read_model(Machine, given.machine)
    tools = read_model(Tools, given.tools)
    if given.seed < 0:
        raise NonnaError("out-of-range", "--seed: a whole number from 0 up is wanted.", "seed")
    text = _text(given.program)
    if given.piece is not None:
        lines = text.splitlines(keepends=True)
        if not 1 <= given.at <= len(lines):
            words = "--at: the line of {name} that the piece is put before, 1 to {last}."
            raise NonnaError("out-of-range", words, "at", name=given.program.name, last=len(lines))
        text = "".join([*lines[: given.at - 1], _text(given.piece), *lines[given.at - 1 :]])
    kept = read_model(ControlTablesFile, given.state) if given.state is not None else None
    held = read_model(Tool, given.held) if given.held is not None else None
    found = rehearsed(text, machine, tools, given.dialect, sweep=given.sweep, seed=given.seed, kept=kept, held=held)
    print(json.dumps(found.to_document()))
    return 3 if found.problems else 0


def _text(path: Path) -> str:
    try:
        return read_bytes(path).decode("utf-8")
    except UnicodeDecodeError as error:
        raise NonnaError("unreadable", "{name} is not UTF-8 text.", "program", name=path.name) from error


def _machine(named: object, job: Path) -> Machine:
    """Return the job's machine, an object or a file beside the job. Raises: NonnaError with the place in the job."""
    if isinstance(named, str):
        return read_model(Machine, job.parent / named)
    if not isinstance(named, dict):
        raise NonnaError(
            "wrong-format", "machine: an object, or the name of a file beside the job, is wanted.", "machine"
        )
    try:
        return checked(Machine, named)
    except NonnaError as error:
        raise NonnaError(error.code, "machine.{words}", f"machine.{error.where}", words=error.message) from error


def read_model(model: type[M], path: Path) -> M:
    """Read a file of a format. Raises: NonnaError naming it."""
    try:
        return checked(model, strict_json.loads(read_bytes(path)))
    except NonnaError as error:
        raise NonnaError(error.code, "{name}: {words}", error.where, name=path.name, words=error.message) from error
