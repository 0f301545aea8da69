"""``nonna evaluate``: readings in, results out, one or many."""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Callable, Iterator, Mapping
from pathlib import Path
from typing import Any, BinaryIO, TypeAlias

from nonna.errors import NonnaError
from nonna.procedures.catalogue import evaluate as evaluate_document
from nonna.shop.texts import strict_json
from nonna.shop.texts.given import Plain
from nonna.wiring import read_bytes

Answer: TypeAlias = Callable[[Any], dict[str, Plain]]


def evaluate(given: argparse.Namespace) -> int:
    """Evaluate a file (or standard input). Raises: NonnaError."""
    return answered(given, lambda document: evaluate_document(document).to_document())


def drift(given: argparse.Namespace) -> int:
    """Say what a series of values tells. Raises: NonnaError."""
    from nonna.bench.station.drift_document import drift as drift_of  # late: evaluating has no use for it

    return answered(given, drift_of)


def diagnose(given: argparse.Namespace) -> int:
    """Say which faults explain what changed. Raises: NonnaError."""
    from nonna.bench.station.diagnosis_document import diagnose as diagnosis_of  # late: likewise

    return answered(given, diagnosis_of)


def answered(given: argparse.Namespace, answer: Answer) -> int:
    """Answer a file (or standard input), or each line of it. Raises: NonnaError."""
    if given.jsonl:
        return _lines(given.file, answer)
    print(json.dumps(answer(strict_json.loads(read_input(given.file)))))
    return 0


def read_input(name: str) -> bytes:
    """Return the bytes of a file, or of standard input for ``-``. Raises: NonnaError."""
    if name == "-":
        return sys.stdin.buffer.read(strict_json.MAX_BYTES + 1)
    return read_bytes(Path(name))


def _lines(name: str, answer: Answer) -> int:
    failed = False
    for line in each_line(name):
        said = _said(line, answer)
        failed = failed or "error" in said
        sys.stdout.write(json.dumps(said) + "\n")
    sys.stdout.flush()
    return 1 if failed else 0


def _said(line: bytes | None, answer: Answer) -> Mapping[str, Plain]:
    try:
        if line is None:
            raise NonnaError("too-large", "This line is over 50 MB.")
        return answer(strict_json.loads(line))
    except NonnaError as error:
        return error.to_document()


def each_line(name: str) -> Iterator[bytes | None]:
    """Give each line that is not blank; None for one over the limit, which is skipped without being held."""
    if name == "-":
        yield from _split(sys.stdin.buffer)
        return
    path = Path(name)
    if not path.is_file():
        read_bytes(path)  # says why not
    try:
        stream = path.open("rb")
    except OSError as error:
        raise NonnaError(
            "unreadable", "{name!r} cannot be read: {strerror}.", name=path.name, strerror=error.strerror
        ) from error
    with stream:
        yield from _split(stream)


def _split(stream: BinaryIO) -> Iterator[bytes | None]:
    while line := stream.readline(strict_json.MAX_BYTES + 2):
        if len(line.rstrip(b"\r\n")) > strict_json.MAX_BYTES:
            while line and not line.endswith(b"\n"):
                line = stream.readline(strict_json.MAX_BYTES)
            yield None
        elif line.strip():
            yield line
