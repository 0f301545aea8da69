"""``nonna shop``: set up a shop of one's own from answers in a file, or print what is asked."""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path

from nonna import plugged
from nonna.bench.founding import found, questions
from nonna.errors import NonnaError
from nonna.shop import strict_json


def shop(given: argparse.Namespace) -> int:
    """Make a shop's folder, or print the questions of a kind of station. Raises: NonnaError."""
    if given.action == "questions":
        print(json.dumps({"kind": given.target, "questions": questions(given.target)}, ensure_ascii=True))
        return 0
    if not given.answers:
        raise NonnaError("missing-field", "Which file holds the answers? nonna shop new DIR ANSWERS.json", "answers")
    data = sys.stdin.buffer.read() if given.answers == "-" else plugged.read_bytes(Path(given.answers))
    made = found(strict_json.loads(data))
    plugged.new_shop(Path(given.target), made.documents)
    print(json.dumps({**made.report, "folder": str(given.target)}, ensure_ascii=True))
    return 0
