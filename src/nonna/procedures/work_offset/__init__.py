"""Work offset: a surface touched with a tool, a probe or a sensor of known height between."""

from nonna.procedures.listing import Listed
from nonna.shop.links.subjects import PART

LISTED = Listed("work-offset", "Work offset", PART, stored={"offset_mm": "work z"})
