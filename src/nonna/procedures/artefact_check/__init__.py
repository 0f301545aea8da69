"""Artefact check: a second artefact, not used before, measured through the whole loop."""

from nonna.procedures import offers
from nonna.procedures.listing import Listed
from nonna.shop.links.subjects import ARTEFACT

LISTED = Listed("artefact-check", "Artefact check", ARTEFACT, offers={offers.DAILY_CHECK: ""})
