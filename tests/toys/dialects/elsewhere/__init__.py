"""A control that searches by a skip move and keeps the trigger's place in parameters of its own."""

from pathlib import Path

from nonna.programs.language.dialect import Dialect
from nonna.programs.language.grammar import SKIP

DIALECT = Dialect(
    "elsewhere", "skip move, its place kept elsewhere", Path(__file__).parent, search=SKIP, jumps=True, trigger_at=4101
)
