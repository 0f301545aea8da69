"""Five hundred written programs before eyes that share nothing with the product: ``python -m benchmarks.written [FIRST
[COUNT]]``.
"""

from __future__ import annotations

import sys

from tests.support.plans_at_random import checked


def main() -> int:
    """Check programs from a seed on; returns 1 where anything was found."""
    first, count = (int(sys.argv[i]) if len(sys.argv) > i else usual for i, usual in ((1, 1000), (2, 500)))
    found = planned = 0
    for seed in range(first, first + count):
        said, kept, _ = checked(seed)
        planned += kept
        found += bool(said)
        for words in said[:2]:
            print(f"seed {seed}: {words}")
    print(f"{count} programs, {planned} tools touched, something found in {found}")
    return int(bool(found))


if __name__ == "__main__":
    sys.exit(main())
