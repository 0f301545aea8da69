"""Hostile lines through ``evaluate --jsonl`` and hostile rows in ledgers: how many end in a traceback (wanted:
none).
"""

from __future__ import annotations

import copy
import json
import random
import sqlite3
import subprocess
import sys
import tempfile
from collections import Counter
from collections.abc import Iterator, Sequence
from contextlib import closing
from functools import partial
from pathlib import Path
from typing import Any

from tests.support.documents import REPEAT, SETTER, TOOL
from tests.support.examples import EXAMPLES, FLANKS
from tests.support.ledgers import Ledger

from nonna.adapters.store.sqlite.shapes import REPEATED
from nonna.bench.book.writing import Signature
from nonna.bench.sheet.signing import prepare
from nonna.errors import NonnaError
from nonna.shop.records.hashing import canonical, digest
from nonna.shop.records.text import exported

LINES, LINES_BESIDE, ROWS, IMPORTS = 200_000, 5_000, 10_000, 10_000
THRESHOLD = {
    "format": "nonna-readings/1", "procedure": "breakage-threshold", "readings": [],
    "setup": {"sigma_mm": 0.002, "smallest_break_mm": 0.2, "false_alarm": 1e-3, "missed": 1e-3},
}  # fmt: skip
SEEDS = [TOOL, SETTER, REPEAT, THRESHOLD, FLANKS, *EXAMPLES.values()]
SERIES = {
    "format": "nonna-series/1", "lower_mm": -0.01, "upper_mm": 0.01, "interval_days": 90,
    "now": "2026-11-20T12:00:00+00:00",
    "points": [{"t": f"2026-0{m}-{d:02d}T07:30:00+02:00", "value_mm": 1e-4 * (m * d % 7) + 0.004 * (m > 6),
        "u_mm": 3e-4} for m in range(4, 10) for d in (3, 17)],
    "events": [{"t": "2026-06-20T10:00:00+02:00", "name": "crash"}],
}  # fmt: skip
EVIDENCE = {
    "format": "nonna-evidence/1", "events": ["crash"], "minutes": {"closure": 6},
    "observations": [
        {"what": "setter-by-master", "change_mm": 0.021, "u_mm": 0.0008, "length_mm": 140.0},
        {"what": "tool-on-setter", "subject": 4, "change_mm": 0.0203, "u_mm": 0.001, "length_mm": 112.0},
        {"what": "closure", "subject": 4, "change_mm": 0.0004, "u_mm": 0.0012, "length_mm": 112.0,
            "probe_length_mm": 121.0},
        {"what": "lobing", "change_mm": 0.0002, "u_mm": 0.0005},
    ],
}  # fmt: skip
FIELDS = (
    "repeatability_mm", "repeatability_dof", "resolution_mm", "trigger_plane_dof", "trigger_plane_u_mm", "surface_dof",
    "surface_u_mm",
    "calibration_dof", "calibration_u_mm", "setter_width_dof", "setter_width_y_mm", "feed_per_rev_mm", "reference_dof",
    "same_plane",
    "height_dof", "limit_mm", "expected_mm", "span_mm", "indicator", "screws", "school", "side", "quantity",
)  # fmt: skip
NUMBERS = (
    0, -0.0, 1, -1, 0.99, 0.98, 1.0000001, 2, 1e-9, 1e-160, 1e-200, 5e-324, 1e-308, 1e6, -1e6, 1.0000001e6, 1e308, 25.4,
    0.5, 1e-5, 123456.789,
)  # fmt: skip
ODD: tuple[Any, ...] = (
    None,
    True,
    False,
    "",
    "1",
    "nan",
    [],
    {},
    [1],
    {"a": 1},
    float("nan"),
    float("inf"),
    10**400,
    "\ud800",
    "absolute",
    "internal",
)


def figures() -> Iterator[str]:
    """Give how the lines and the rows ended."""
    dice = random.Random(20261126)
    yield _jsonl(dice, "evaluate", SEEDS, LINES)
    yield _jsonl(dice, "drift", [SERIES], LINES_BESIDE)
    yield _jsonl(dice, "diagnose", [EVIDENCE], LINES_BESIDE)
    yield _rows(dice)
    yield _imports(dice)


def spoiled(dice: random.Random, document: dict[str, Any]) -> Any:
    """Return a document with one to four places changed, by sound and by odd values."""
    made = copy.deepcopy(document)
    for _ in range(dice.randint(1, 4)):
        parts = [part for part in made.values() if isinstance(part, dict | list) and part]
        places = list(_places(dice.choice(parts) if parts and dice.random() < 0.9 else made))
        leaves = [(h, k) for h, k in places if not isinstance(h[k], dict | list)] or places
        holder, key = dice.choice(leaves if dice.random() < 0.95 else places)
        way = dice.random()
        if way < 0.75:
            holder[key] = dice.choice(NUMBERS) * dice.choice((1, 1, -1, dice.random()))
        elif way < 0.78:
            holder[key] = copy.deepcopy(dice.choice(ODD))  # or a document comes to hold itself
        elif way < 0.82 and isinstance(holder, dict):
            del holder[key]
        elif way < 0.9 and isinstance(made.get("setup"), dict):
            made["setup"][dice.choice(FIELDS)] = dice.choice(NUMBERS)
        elif isinstance(made.get("readings"), list) and made["readings"]:
            made["readings"] = made["readings"][: dice.randint(0, 3)] * dice.randint(1, 3)
    return made


def _places(at: Any) -> Iterator[tuple[Any, Any]]:
    for key in list(at) if isinstance(at, dict) else range(len(at)) if isinstance(at, list) else ():
        yield at, key
        if isinstance(at[key], dict | list):
            yield from _places(at[key])


def _jsonl(dice: random.Random, of: str, seeds: Sequence[dict[str, Any]], count: int) -> str:
    lines = [json.dumps(spoiled(dice, dice.choice(seeds))) for _ in range(count)]
    command = [sys.executable, "-m", "nonna", of, "-", "--jsonl"]
    done = subprocess.run(command, input="\n".join(lines).encode(), capture_output=True, check=False)
    answers = [json.loads(line) for line in done.stdout.splitlines()]
    ends = Counter(a["error"]["code"] if "error" in a else "a result" for a in answers)
    odd = sum(1 for a in answers if "error" not in a and "NaN" in json.dumps(a))
    reckoned = sum(1 for a in answers if "reckoned with" in a.get("error", {}).get("message", ""))
    traces = done.stderr.count(b"Traceback")
    return (
        f"fuzz, {of}: {len(answers):,} answers to {count:,} lines of {len(seeds)} sorts, {traces} tracebacks, {odd} "
        "results not finite, "
        f"{reckoned} caught by the last guard; {ends['a result']:,} results, else {dict(ends.most_common(6))}"
    )


def _book(folder: Path) -> list[bytes]:
    from nonna.shop.links.subjects import Subject

    who = Signature("K. Amsel", "Larch", Subject.of("T2"))
    book = Ledger(folder / "ledger.sqlite")
    for document in (TOOL, SETTER, REPEAT, TOOL):
        book.sign(prepare(document, who)[0])
    return [json.dumps(exported(record)).encode() for record in book.all()]


def _rows(dice: random.Random) -> str:
    columns = ("hash", "previous", "body", *REPEATED)
    named = silent = refused = 0
    with tempfile.TemporaryDirectory() as place:
        path = Path(place) / "ledger.sqlite"
        _book(Path(place))
        with closing(sqlite3.connect(path)) as raw:
            raw.execute("DROP TRIGGER records_no_update")
            good = {row[0]: row for row in raw.execute(f"SELECT number, {', '.join(columns)} FROM records")}
            raw.commit()
            for _ in range(ROWS):
                number, column = dice.randint(1, 4), dice.choice(columns)
                try:
                    raw.execute(
                        f"UPDATE records SET {column} = ? WHERE number = ?", (_value(dice, good[number]), number)
                    )
                    raw.commit()
                except sqlite3.Error:
                    refused += 1
                    continue
                book = Ledger(path)
                found = book.verify()
                named += found.first_damaged == number
                silent += found.sound
                for look in (Ledger(path).entries, partial(Ledger(path).reader(), number)):
                    try:
                        look()
                    except NonnaError:
                        continue
                raw.execute(
                    f"UPDATE records SET {', '.join(f'{c} = ?' for c in columns)} WHERE number = ?",
                    (*good[number][1:], number),
                )
                raw.commit()
    return (
        f"fuzz: {ROWS:,} hostile rows, {named:,} named, {refused:,} refused by the database, {silent:,} that "
        "changed nothing, 0 tracebacks"
    )


def _value(dice: random.Random, row: tuple[Any, ...]) -> Any:
    way = dice.randint(0, 5)
    if way == 0:
        return bytes(dice.randrange(256) for _ in range(dice.randint(0, 30)))
    if way == 1:
        return dice.choice((None, 0, -1, 2**62, 1.5, float("inf"), 1e308))
    if way == 2:
        return "".join(chr(dice.choice((0, 10, 65, 0xE9, 0x2028, 0x1F600))) for _ in range(dice.randint(0, 20)))
    text = str(dice.choice(row[1:]))
    at = dice.randrange(max(1, len(text)))
    return text[:at] + dice.choice('{}[]":,0a') + text[at + dice.randint(0, 3) :]


def _imports(dice: random.Random) -> str:
    ends: Counter[str] = Counter()
    with tempfile.TemporaryDirectory() as place:
        lines = _book(Path(place))
        target, sound = _fresh(Path(place), lines), True
        for _ in range(IMPORTS):
            body = spoiled(dice, json.loads(dice.choice(lines[1:]))["body"])
            try:
                line = json.dumps({"hash": digest(canonical(body)), "body": body}).encode()
            except (ValueError, UnicodeEncodeError):
                ends["no record can be so"] += 1
                continue
            try:
                target.take_in([line])
                ends["taken"] += 1  # what was spoiled may be so: a note, a name
                sound = sound and target.verify().sound
                target.close()
                target = _fresh(Path(place), lines)
            except NonnaError as error:
                ends[error.code] += 1
        sound = sound and target.verify().sound
        target.close()
    return (
        f"fuzz: {sum(ends.values()):,} hostile import lines of right hashes: {dict(ends)}; the book is "
        f"{'sound' if sound else 'NOT SOUND'}"
    )


def _fresh(place: Path, lines: list[bytes]) -> Ledger:
    """Return a book that holds the first line alone."""
    for rest in place.glob("target.sqlite*"):
        rest.unlink()
    target = Ledger(place / "target.sqlite")
    target.take_in(lines[:1])
    return target


if __name__ == "__main__":
    for figure in figures():
        print(figure, flush=True)
