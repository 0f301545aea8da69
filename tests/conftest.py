"""Fixtures all tests share: documents, a practice shop, a window."""

import copy
import json
import os
import shutil
from datetime import timedelta
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import pytest
from hypothesis import settings

from nonna.adapters.shop_files.practice import make
from nonna.adapters.shop_files.shop_folder import ShopFolder
from nonna.bench import clock
from tests.support.documents import REPEAT, SETTER, START, TOOL

settings.register_profile("steady", deadline=None, max_examples=60, derandomize=True)
settings.load_profile("steady")


class Clock:
    """A clock that goes on a second each time it is asked, and counts the runs of the stand-in."""

    def __init__(self):
        self.asked, self.runs = 0, 0

    def now(self):
        self.asked += 1
        return START + timedelta(seconds=self.asked)

    def run_number(self):
        self.runs += 1
        return self.runs


@pytest.fixture(autouse=True)
def fixed_time(monkeypatch):
    """No test depends on the day, the hour or luck: the same runs of the stand-in every time."""
    made = Clock()
    monkeypatch.setattr(clock, "now", made.now)
    monkeypatch.setattr(clock, "run_number", made.run_number)
    return made


@pytest.fixture
def tool():
    return copy.deepcopy(TOOL)


@pytest.fixture
def setter():
    return copy.deepcopy(SETTER)


@pytest.fixture
def repeat():
    return copy.deepcopy(REPEAT)


@pytest.fixture(scope="session")
def practice(tmp_path_factory) -> Path:
    place = tmp_path_factory.mktemp("practice") / "shop"
    make(place, START)
    return place


@pytest.fixture
def shop(practice, tmp_path) -> ShopFolder:
    """A copy of the demo shop that a test may spoil."""
    shutil.copytree(practice, tmp_path / "shop")
    return ShopFolder(tmp_path / "shop")


@pytest.fixture
def desk(shop, tmp_path, qtbot, qapp):
    """The window on a copy of the demo shop."""
    from nonna.desk.frame.settings import DeskSettings
    from nonna.desk.look import style
    from nonna.desk.look.palette import LIGHT
    from nonna.desk.start.window_making import make_window
    from tests.support.hands import PATIENCE

    style.load_fonts()
    style.apply(qapp, LIGHT)
    window = make_window(shop, DeskSettings(tmp_path / "desk.ini"))
    qtbot.addWidget(window)
    window.resize(1280, 800)
    window.show()
    qtbot.waitExposed(window)
    window.activateWindow()
    qtbot.waitUntil(lambda: window.site is not None, timeout=PATIENCE)
    yield window
    if window.sheet is not None:
        window.sheet.controller.standin.cancel()
        qtbot.waitUntil(lambda: not window.sheet.controller.running, timeout=PATIENCE)


@pytest.fixture
def hands(desk, qtbot):
    """Hands on that window."""
    from tests.support.hands import Hands

    return Hands(desk, qtbot)


@pytest.fixture
def tray(desk, hands):
    """The tray on a machine whose setter holds."""
    from PySide6.QtCore import Qt

    from tests.support.hands import settled

    hands.mend("level", "setter")
    hands.press(Qt.Key.Key_F3)
    settled(desk, hands)
    return desk.tools


@pytest.fixture
def cli(capfdbinary, monkeypatch):
    """Run the command line in this process: status, JSON lines of stdout, stderr."""
    from nonna.cli.main import run

    def call(*arguments):
        status = run([str(a) for a in arguments], lambda given: 99)
        out, err = capfdbinary.readouterr()
        return status, [json.loads(line) for line in out.decode().splitlines()], err.decode()

    return call
