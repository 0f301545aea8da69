"""What happened is written down without a reading in it, and a run that ended unexpectedly is told of."""

import logging
import subprocess
import sys
from datetime import UTC, datetime

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from nonna.adapters.files.journal import Journal
from nonna.bench.ports import Crash
from nonna.desk.forms.question import QuestionDialog
from nonna.desk.start.fault_watch import tell_of_crash, watch
from tests.support.hands import shown_dialog, shown_text, worked

NOW = datetime(2026, 11, 26, 12, tzinfo=UTC)
DIES = (
    "import logging, os, pathlib, signal, sys\n"
    "from datetime import UTC, datetime\n"
    "from nonna.adapters.files.journal import Journal\n"
    "Journal(pathlib.Path(sys.argv[1])).begin(pathlib.Path('/a/shop'), lambda: datetime(2026, 11, 26, 8, tzinfo=UTC))\n"
    "logging.getLogger('nonna').info('command tools')\n"
    "os.kill(os.getpid(), getattr(signal, sys.argv[2]))\n"
)


@pytest.mark.parametrize("how", ["SIGSEGV", "SIGKILL"])
def test_a_run_that_was_killed_leaves_a_report(tmp_path, how):
    subprocess.run([sys.executable, "-c", DIES, str(tmp_path), how], check=False, timeout=60)
    journal = Journal(tmp_path)
    (crash,) = journal.begin(tmp_path / "shop", lambda: NOW)
    told = crash.report.read_text()
    assert crash.shop.name == "shop" and crash.begun.hour == 8
    assert "command tools" in told and ("Segmentation fault" in told) == (how == "SIGSEGV")
    assert Journal(tmp_path).begin(tmp_path, lambda: NOW) == ()  # told once; and who is at work is not dead
    journal.end()


def test_a_run_that_was_closed_leaves_none_and_a_locked_folder_is_no_reason_not_to_measure(tmp_path):
    journal = Journal(tmp_path / "state")
    assert journal.begin(tmp_path, lambda: NOW) == ()
    logging.getLogger("nonna").info("command loop")
    journal.end()
    assert [path.name for path in (tmp_path / "state").iterdir()] == ["nonna.log"]
    assert "command loop" in (tmp_path / "state" / "nonna.log").read_text()
    (tmp_path / "file").write_text("")
    blocked = Journal(tmp_path / "file" / "state")
    assert blocked.begin(tmp_path, lambda: NOW) == ()
    blocked.end()


@pytest.fixture
def watched(desk):
    end = watch(desk)
    yield desk
    end()


def test_what_goes_wrong_is_said_and_written_without_a_reading(watched, hands, tmp_path, capfd):
    journal = Journal(tmp_path / "state")
    journal.begin(tmp_path, lambda: NOW)
    hands.mend("level")
    watched.open_link("setter")
    hands.sheet()
    hands.enter("-312.4010")
    try:
        raise ZeroDivisionError("-312.4010")
    except ZeroDivisionError as error:
        sys.excepthook(type(error), error, error.__traceback__)
    assert "went wrong inside Nonna (ZeroDivisionError)" in shown_text(watched)
    journal.end()
    log = (tmp_path / "state" / "nonna.log").read_text()
    assert "sheet setter-calibration of Setter opened on Larch" in log and "signed: record" in log
    before, _, after = log.partition("ERROR")
    assert "312.401" not in before and "ZeroDivisionError" in after


def test_a_crash_on_another_shop_offers_to_open_it(watched, hands, shop, practice, tmp_path):
    tell_of_crash(watched, Crash(watched.folder.root, NOW, tmp_path / "report.txt"))
    worked(watched)
    assert "ended unexpectedly" in shown_text(watched) and "report.txt" in shown_text(watched)
    tell_of_crash(watched, Crash(practice, NOW, tmp_path / "report.txt"))
    worked(watched)
    QTest.keyClick(shown_dialog(watched, QuestionDialog), Qt.Key.Key_Return)
    hands.until(lambda: watched.folder.root == practice)
