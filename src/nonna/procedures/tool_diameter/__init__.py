"""Tool diameter: a tool's edges touched on the faces of a calibrated setter, from both sides or from one."""

from nonna.procedures.listing import Listed
from nonna.shop.links.subjects import ANY

LISTED = Listed("tool-diameter", "Tool diameter", ANY, stored={"diameter_mm": "diameter"}, measures="diameter")
