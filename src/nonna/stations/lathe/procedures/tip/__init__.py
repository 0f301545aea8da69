"""A tip on the arm"s faces: its offset, and what changed against the last one."""

from nonna.procedures.listed import Listed
from nonna.shop.subjects import Subject

LISTED = Listed("lathe-tip", "Tip on the arm", Subject.of(""))
