"""The same with a skip move and jumps: the program looks whether anything was found, and a check can stop by itself."""

from pathlib import Path

from nonna.programs.language.dialect import Dialect
from nonna.programs.language.grammar import SKIP

DIALECT = Dialect("branch", "skip move, stops by itself", Path(__file__).parent, search=SKIP, jumps=True)
