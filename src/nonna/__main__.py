"""Entry point: ``nonna`` and ``python -m nonna``. Qt is imported only when the desk opens."""

from __future__ import annotations

import os
import sys

TYPE_CHECKING = False  # typing itself is slow to import, and help must be quick
if TYPE_CHECKING:
    from argparse import Namespace

HELP = os.path.join(os.path.dirname(__file__), "cli", "help.txt")  # noqa: PTH118, PTH120 - pathlib takes as long as the rest
INTERRUPTED = 130  # what shells give for Ctrl+C


def main() -> int:
    """Run the program and return its exit status; never a traceback because somebody stopped listening."""
    try:
        if sys.argv[1:] in (["--help"], ["-h"]):  # as it stands in the file: what makes it takes longer than telling it
            with open(HELP, encoding="utf-8") as told:  # noqa: PTH123
                sys.stdout.write(told.read())
            sys.stdout.flush()
            return 0
        from nonna.cli.main import run

        status = run(sys.argv[1:], _desk)
        sys.stdout.flush()
        sys.stderr.flush()
    except BrokenPipeError:
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())  # or the last flush would complain again
        return 1
    except KeyboardInterrupt:
        return INTERRUPTED
    if sys.argv[1:2] == ["evaluate"]:  # nothing is open but the output: spare the dismantling of the libraries
        os._exit(status)
    return status


def _desk(given: Namespace) -> int:
    from nonna.desk.start.app import open_desk

    return open_desk(demo=given.demo, shop=given.shop, tour=given.tour_if_no_display)


if __name__ == "__main__":
    sys.exit(main())
