"""``nonna shop``: set up a shop of one's own from answers in a file, print what is asked, copy one, or restore a
copy.
"""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path

from nonna import wiring
from nonna.bench.founding.founding import found, questions
from nonna.bench.ports import Copied
from nonna.errors import NonnaError
from nonna.shop.texts import strict_json
from nonna.shop.texts.given import Plain


def _copied(found: Copied) -> dict[str, Plain]:
    return {"folder": str(found.path), "shop": found.shop, "records": found.records, "last": found.last}


def _copy(given: argparse.Namespace) -> dict[str, Plain]:
    return _copied(wiring.copy_shop(given.shop or wiring.usual_shop(), Path(given.target), lambda done, of: None))


def _look(given: argparse.Namespace) -> dict[str, Plain]:
    return _copied(wiring.look_at_copy(Path(given.target)))


def _restore(given: argparse.Namespace) -> dict[str, Plain]:
    if not given.answers:
        raise NonnaError("missing-field", "Where to? nonna shop restore COPY DIR", "target")
    wiring.restore_shop(Path(given.target), Path(given.answers))
    return _copied(wiring.look_at_copy(Path(given.answers)))


def _demo(given: argparse.Namespace) -> dict[str, Plain]:
    target = Path(given.target)
    folder = wiring.lay_demo_shop(target)
    return {"folder": str(target), "shop": folder.shop().name, "records": len(folder.book.entries())}


_DONE = {"demo": _demo, "copy": _copy, "look": _look, "restore": _restore}


def shop(given: argparse.Namespace) -> int:
    """Do what is asked for with a whole shop. Raises: NonnaError."""
    if given.action == "questions":
        print(json.dumps({"kind": given.target, "questions": questions(given.target)}, ensure_ascii=True))
        return 0
    if given.action in _DONE:
        print(json.dumps(_DONE[given.action](given), ensure_ascii=True))
        return 0
    if not given.answers:
        raise NonnaError("missing-field", "Which file holds the answers? nonna shop new DIR ANSWERS.json", "answers")
    data = sys.stdin.buffer.read() if given.answers == "-" else wiring.read_bytes(Path(given.answers))
    made = found(strict_json.loads(data))
    wiring.new_shop(Path(given.target), made.documents)
    print(json.dumps({**made.report, "folder": str(given.target)}, ensure_ascii=True))
    return 0
