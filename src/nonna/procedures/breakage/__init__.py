"""Breakage: is the tool still as long as it was, broken, pulled out, worn, or gone?"""

from nonna.procedures.listing import Listed
from nonna.shop.links.subjects import ANY

LISTED = Listed("breakage", "Breakage", ANY, measures="breakage", older_main="change_mm")
