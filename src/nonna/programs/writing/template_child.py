"""Fills a shop's own templates in a process of its own, with an end to time, memory and files.

A template is a stranger's text. Here it can harm nothing and hang nobody: the process may not take longer than a few
seconds of work, more than a gigabyte, or write any file.
"""

from __future__ import annotations

import json
import subprocess
import sys
from collections.abc import Mapping, Sequence

from nonna.programs.writing.rendering import RefusedError, render
from nonna.shop.texts.given import Plain

WORK_S, WAIT_S = 5, 60  #: of the processor, and by the clock (a busy machine is no fault of the template)
MEMORY_BYTES = 1 << 30
_CALL = "from nonna.programs.writing.template_child import main; main()"


def render_apart(sources: Mapping[str, str], name: str, contexts: Sequence[Mapping[str, Plain]]) -> list[str]:
    """Fill a template as `render` does, in another process. Raises: RefusedError."""
    asked = json.dumps({"sources": dict(sources), "name": name, "contexts": list(contexts)})
    try:
        done = subprocess.run(
            [sys.executable, "-I", "-c", _CALL], input=asked.encode(), capture_output=True, timeout=WAIT_S, check=False
        )
    except subprocess.TimeoutExpired as error:
        raise RefusedError(name, 0, "it does not come to an end") from error
    try:
        answer = json.loads(done.stdout)
    except ValueError as error:
        raise RefusedError(name, 0, "it takes too long, or more memory than there may be") from error
    if "refused" in answer:
        raise RefusedError(*answer["refused"])
    return [str(text) for text in answer["texts"]]


def main() -> None:
    """Read a request on standard input, answer on standard output."""
    _bounded()
    asked = json.loads(sys.stdin.buffer.read())
    try:
        answer: dict[str, Plain] = {"texts": render(asked["sources"], asked["name"], asked["contexts"])}
    except RefusedError as error:
        answer = {"refused": [error.file, error.line, error.words[:500]]}
    sys.stdout.write(json.dumps(answer))


def _bounded() -> None:
    import resource

    for what, most in (
        (resource.RLIMIT_CPU, WORK_S),
        (resource.RLIMIT_AS, MEMORY_BYTES),
        (resource.RLIMIT_FSIZE, 0),
        (resource.RLIMIT_CORE, 0),
    ):
        resource.setrlimit(what, (most, most))
