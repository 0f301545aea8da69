"""The published RS-274/NGC language (NIST IR 6556): a straight probe that stops by itself, no branching."""

from pathlib import Path

from nonna.programs.language.dialect import Dialect

DIALECT = Dialect("rs274", "straight probe, no branching", Path(__file__).parent)
