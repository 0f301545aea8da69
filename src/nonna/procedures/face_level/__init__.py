"""Face level: how a contact setter's pad leans, by an indicator carried over it."""

from nonna.procedures.listing import Listed
from nonna.shop.links.subjects import SETTER

LISTED = Listed("face-level", "Face level", SETTER)
