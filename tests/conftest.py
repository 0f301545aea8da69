"""Fixtures all tests share: documents, a practice shop, a window."""

import copy
import os
import shutil
from datetime import datetime, timedelta, timezone
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import pytest
from hypothesis import settings

from nonna.adapters.practice import make
from nonna.adapters.shop_folder import ShopFolder
from nonna.bench import clock

settings.register_profile("steady", deadline=None, max_examples=60, derandomize=True)
settings.load_profile("steady")

TOOL = {
    "format": "nonna-readings/1",
    "procedure": "tool-length",
    "setup": {"trigger_plane_mm": -452.4, "trigger_plane_u_mm": 0.0006, "expected_mm": 112.418, "limit_mm": 0.02},
    "readings": [{"position_mm": -339.981}, {"position_mm": -339.9805}, {"position_mm": -339.9812}],
}
SETTER = {
    "format": "nonna-readings/1",
    "procedure": "setter-calibration",
    "conditions": {"temperature_c": 21.4, "temperature_u_c": 0.3},
    "masters": {
        "master": {
            "length_mm": 140.0032,
            "U_length_mm": 0.0008,
            "diameter_mm": 16.0006,
            "U_diameter_mm": 0.0008,
            "k": 2,
            "cte_per_k": 11.5e-6,
            "cte_u_per_k": 1e-6,
        }
    },
    "setup": {"limit_range_mm": 0.003},
    "readings": [
        *({"face": "top", "position_mm": z} for z in (-312.4, -312.401, -312.4004)),
        *({"face": "+x", "position_mm": x} for x in (735.0, 735.0006)),
        *({"face": "-x", "position_mm": x} for x in (705.001, 705.0004)),
    ],
}
REPEAT = {
    "format": "nonna-readings/1",
    "procedure": "repeatability",
    "setup": {"limit_2s_mm": 0.003},
    "readings": [{"value_mm": v} for v in (0.001, 0.0012, 0.0009, 0.0011, 0.0008, 0.0013, 0.0007)],
}


START = datetime(2026, 11, 25, 10, 0, tzinfo=timezone(timedelta(hours=1)))


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
