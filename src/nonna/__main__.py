"""Entry point: ``nonna`` and ``python -m nonna``. Qt is imported only when the desk opens."""

from __future__ import annotations

import sys
from argparse import Namespace

from nonna.cli.main import run


def main() -> int:
    """Run the program and return its exit status."""
    return run(sys.argv[1:], _desk)


def _desk(given: Namespace) -> int:
    from nonna.desk.app import open_desk

    return open_desk(demo=given.demo, shop=given.shop, tour=given.tour_if_no_display)


if __name__ == "__main__":
    sys.exit(main())
