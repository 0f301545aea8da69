"""The stand-in control is a control of its own: takes programs, prints, keeps its tables, and fails to order."""

import contextlib
import json
import os
import signal
import socket
import subprocess
import sys
import time

import pytest

from nonna.adapters.standin_control.cable import Cable
from nonna.adapters.standin_control.drop_folder import DropFolder
from nonna.adapters.standin_control.faults import NAMES, Faults
from nonna.bench.control.printed_results import readings_files
from nonna.bench.job.planning import program_of
from nonna.errors import NonnaError
from nonna.programs.dialects.listing import dialect_of
from nonna.programs.writing.load_plan import LoadPlan, LoadRow
from nonna.programs.writing.loading import write_load
from nonna.shop.cards.control_tables import ControlTablesFile
from nonna.shop.cards.machine import Machine
from nonna.standin.control import AlarmError, StandinControl
from nonna.standin.first_tables import first_tables
from tests.support.plans import LARCH, TABLE, TOOLS, planned

CARD = {
    "stores": {"length": "#[700 + {tool}] = {value}"}, "reads": {"length": "#[700 + {tool}]"},
    "prints": "(PRINT,{text})", "prints_value": "#{parameter}",
}  # fmt: skip
ROWS = [{**TABLE["tools"][i], "measure": ["length"]} for i in (0, 1)]


class Cabinet:
    """What is outside of a control, in lists."""

    def __init__(self):
        self.lines, self.tables, self.seconds = [], [], 0.0

    def printed(self, line):
        self.lines.append(line)

    def stored(self, tables):
        self.tables.append(tables)

    def passed(self, seconds):
        self.seconds += seconds


def machine(**card):
    return Machine.model_validate(LARCH | {"control": CARD | card})


def control(with_machine, **more):
    kept = first_tables(with_machine, TOOLS)
    return StandinControl(with_machine, dialect_of("rs274"), kept, **more)


def loading(mill, name, lengths):
    rows = tuple(LoadRow("length", value, tool) for tool, value in lengths.items())
    return write_load(LoadPlan("Larch", mill.control, rows, name))


def run(made, text, seed=0):
    cabinet = Cabinet()
    made.run(text, program_of(made.machine).standin(made.machine, TOOLS, seed).drive, cabinet)
    return cabinet


@pytest.mark.parametrize("units", ["mm", "inch"])
def test_measured_stored_and_kept_from_one_program_to_the_next(units):
    mill = machine(units=units)
    made = control(mill)
    _, text = planned(ROWS, mill)
    cabinet = run(made, text)
    files = readings_files("\n".join(cabinet.lines) + "\n", text)
    assert [file["tool"] for file in files] == [2, 3] and cabinet.seconds > 10.0
    load = write_load(
        LoadPlan("Larch", mill.control, (LoadRow("length", 112.4321, 2), LoadRow("length", 98.7, 3)), "LOAD")
    )
    cabinet = run(made, load)
    unit, digits = (25.4, 4) if units == "inch" else (1.0, 3)
    assert {row.number: row.length for row in made.kept.tools}[2] == round(112.4321 / unit, digits)
    assert len(cabinet.tables) >= 2, "the disk has each number as soon as it is stored"
    again = run(made, load.replace("LOAD", "AGAIN"))
    old = [line.rpartition("=")[2] for line in again.lines if "old-" in line]
    assert [float(each) for each in old] == [round(112.4321 / unit, digits), round(98.7 / unit, digits)]


@pytest.mark.parametrize(
    ("text", "words"),
    [("G21\nG0 X\n", "block 2"), ("G21\nG53 G0 Z-559\nM2\n", "block 2"), ("G21\n#702 = [1 / 0]\nM2\n", "block 2"),
     ("G21\nT99 M6\nM2\n", "T99|tool 99"), ("G21\nG53 G0 X600 Y200\nG38.2 Z-1 F100\nM2\n", "block")],
)  # fmt: skip
def test_what_would_be_an_alarm_is_one_and_the_tables_stay(text, words):
    made = control(machine())
    before = made.kept
    with pytest.raises(AlarmError, match=words):
        run(made, text)
    assert made.kept.tools == before.tools


def test_a_control_that_forgets_says_what_it_has_when_it_is_read():
    mill = machine()
    made = control(mill, forgets=frozenset((1,)))
    text = write_load(
        LoadPlan("Larch", mill.control, (LoadRow("length", 112.5, 2), LoadRow("length", 98.7, 3)), "LOAD")
    )
    lines = run(made, text).lines
    assert [line.rpartition("=")[2] for line in lines if "stored-" in line] == ["112.418", "98.700"]


# --------------------------------------------------------------------------------------------------- folder and cable


def test_a_program_is_taken_once_when_it_is_whole(tmp_path):
    (tmp_path / "old.nc").write_text("M2\n")
    drop = DropFolder(tmp_path)
    assert drop.look() is None and drop.look() is None, "what was there is not run"
    (tmp_path / "new.nc").write_text("G21\n")
    (tmp_path / ".new.nc.part").write_text("G21\n")
    assert drop.look() is None
    (tmp_path / "new.nc").write_text("G21\nM2\n")
    assert drop.look() is None, "it still grew"
    assert drop.look() == tmp_path / "new.nc" and drop.look() is None
    (tmp_path / "new.nc").write_text("G21\nM2\n")
    os.utime(tmp_path / "new.nc", ns=(1, 5))
    assert drop.look() is None
    assert drop.look() == tmp_path / "new.nc", "written anew it is another program"


@pytest.mark.parametrize("listen", ["0.0.0.0:0", "example:9", "127.0.0.1", "127.0.0.1:x", "127.0.0.1:70000"])
def test_only_this_computer_is_listened_to(listen):
    with pytest.raises(NonnaError) as caught:
        Cable(listen, None)
    assert caught.value.where == "listen"


@pytest.mark.parametrize("name", [n for n in NAMES if n in ("double", "shuffle", "drop", "cut")])
def test_faults_of_the_cable_do_what_they_are_called(name):
    lines = [f"nonna RUN1 {i} tool=2 what=length axis=z value=-1.000" for i in range(1, 80)]
    faults = Faults.of(name, 3)
    raw = b"".join(each for line in lines for each in faults.on_the_cable(line)) + b"".join(faults.last_ones())
    came = raw.decode().splitlines()
    assert (
        raw == b"".join(e for ln in lines for e in Faults.of("", 3).on_the_cable(ln))
        or name in Faults.of(name, 3).names
    )
    assert {"double": len(came) > len(lines), "drop": len(came) < len(lines), "cut": set(came) - set(lines) != set(),
            "shuffle": sorted(came) == sorted(lines) and came != lines}[name]  # fmt: skip
    with pytest.raises(NonnaError):
        Faults.of("fire", 1)


# ------------------------------------------------------------------------------------------------------- the process


@contextlib.contextmanager
def process(folder, *more, card=None):
    """A control in a process of its own; gives its port."""
    (folder / "machine.json").write_text(json.dumps(LARCH | {"control": card or CARD}))
    (folder / "tools.json").write_text(json.dumps(TABLE))
    (folder / "drop").mkdir(exist_ok=True)
    words = [
        "standin",
        "--machine",
        folder / "machine.json",
        "--tools",
        folder / "tools.json",
        "--folder",
        folder / "drop",
    ]
    words += ["--log", folder / "log", "--state", folder / "state.json", "--speed", "0", *more]
    with subprocess.Popen([sys.executable, "-m", "nonna", *map(str, words)], stdout=subprocess.PIPE, text=True) as made:
        try:
            yield made, json.loads(made.stdout.readline())["port"]
        finally:
            made.send_signal(signal.SIGTERM)
            made.wait(30)


def wait_for(what, looks=4000):
    """Look often enough for the busiest machine; no clock is read."""
    for _ in range(looks):
        if what():
            return
        time.sleep(0.05)
    raise AssertionError("it did not come")


def log(folder):
    return (folder / "log").read_text() if (folder / "log").exists() else ""


def test_a_process_of_its_own_from_the_question_to_its_table(tmp_path):
    mill = machine()
    _, text = planned(ROWS, mill)
    with (
        process(tmp_path, "--listen", "127.0.0.1:0") as (made, port),
        socket.create_connection(("127.0.0.1", port)) as ear,
    ):
        (tmp_path / "drop" / "measure.nc").write_text(text)
        wait_for(lambda: " end " in log(tmp_path))
        assert len(readings_files(log(tmp_path), text)) == 2
        load = loading(mill, "LOAD", {2: 112.5})
        (tmp_path / "drop" / "load.nc").write_text(load)
        wait_for(lambda: "nonna LOAD end 2" in log(tmp_path))
        ear.settimeout(10.0)
        heard = b""
        while b"LOAD end 2\n" not in heard:
            heard += ear.recv(4096)
        assert heard.decode() == log(tmp_path), "who listens hears what the log has"
        (tmp_path / "drop" / "bad.nc").write_text("G0 Q\n")
        wait_for(lambda: "alarm block 1" in log(tmp_path))
        made.send_signal(signal.SIGTERM)
        assert made.wait(30) == 0
    kept = ControlTablesFile.model_validate_json((tmp_path / "state.json").read_text())
    assert {row.number: row.length for row in kept.tools}[2] == 112.5
    with process(tmp_path):
        (tmp_path / "drop" / "again.nc").write_text(load.replace("LOAD", "MORE"))
        wait_for(lambda: "nonna MORE end 2" in log(tmp_path))
    assert "nonna MORE 1 tool=2 what=old-length axis=z value=112.500" in log(tmp_path), "its tables outlived it"


def test_one_that_dies_leaves_whole_tables(tmp_path):
    mill = machine()
    (tmp_path / "drop").mkdir()
    load = loading(mill, "LOAD", {n: 100.0 + n for n in (2, 3, 4, 5, 7)})
    for seed in range(2):
        with process(tmp_path, "--faults", "die", "--seed", str(seed)) as (made, _):
            for i in range(40):
                if made.poll() is not None:
                    break
                (tmp_path / "drop" / f"load{seed}-{i}.nc").write_text(load)
                wait_for(lambda ends=i: made.poll() is not None or log(tmp_path).count("end 10") > ends)
            assert made.wait(30) == 9
        kept = ControlTablesFile.model_validate_json((tmp_path / "state.json").read_text())
        assert {row.number: row.length for row in kept.tools}.keys() >= {2, 3, 4, 5, 7}
        (tmp_path / "log").unlink()


def test_an_inch_table_and_an_old_one(tmp_path):
    assert Faults.of("inch-table", 1).begun_with(first_tables(machine(), TOOLS)).units == "inch"
    mill = machine()
    with process(tmp_path, "--faults", "old-table"):
        for name in ("A", "B"):
            rows = (LoadRow("length", 112.5, 2),)
            (tmp_path / "drop" / f"{name}.nc").write_text(
                write_load(LoadPlan("Larch", mill.control, rows, f"LOAD{name}"))
            )
            wait_for(lambda end=f"LOAD{name} end 2": end in log(tmp_path))
    old = [line for line in log(tmp_path).splitlines() if "old-length" in line]
    assert all(line.endswith("value=112.418") for line in old) and len(old) == 2
