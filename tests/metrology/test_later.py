"""What is loaded later is loaded when it is needed, and not before."""

from __future__ import annotations

import json
import subprocess
import sys

from nonna.metrology.thresholds import design
from tests.support.documents import SETTER


def told_by(code):
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True, timeout=120)
    return done.stdout.split()


def test_a_whole_evaluation_leaves_the_optimisation_unloaded():
    code = (
        "import json, sys\n"
        "from nonna.procedures.catalogue import evaluate\n"
        f"found = evaluate(json.loads({json.dumps(SETTER)!r}))\n"
        "print(found.verdict, 'scipy.sparse' in sys.modules, 'scipy.linalg' in sys.modules)\n"
    )
    assert told_by(code)[1:] == ["False", "False"]


def test_it_loads_itself_for_whoever_asks():
    code = (
        "import sys\n"
        "from nonna.metrology.lazy_scipy import gtc, optimize\n"
        "gtc()\n"
        "from scipy import optimize as theirs\n"
        "before = 'scipy.sparse' in sys.modules\n"
        "print(before, optimize().brentq(lambda x: x - 2.0, 0.0, 5.0), theirs.ridder(lambda x: x - 3.0, 0.0, 5.0))\n"
    )
    assert told_by(code) == ["False", "2.0", "3.0"]
    assert design(0.002, 0.0, 0.05, 0.01, 0.001).possible
