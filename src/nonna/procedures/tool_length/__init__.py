"""Tool length: a tool"s tip touched on a calibrated setter."""

from nonna.procedures.listed import Listed
from nonna.shop.subjects import ANY

LISTED = Listed("tool-length", "Tool length", ANY)
