"""Beam level: how a light beam leans, by a master pin found at both of its ends."""

from nonna.procedures.listing import Listed
from nonna.shop.links.subjects import Subject, SubjectKind

LISTED = Listed("beam-level", "Beam level", Subject(SubjectKind.BEAM_SETTER))
