"""Gauge study: how much of what is seen is the gauge, by several people on several parts, or one gauge on one part."""

from nonna.procedures.listing import Listed
from nonna.shop.links.subjects import Subject, SubjectKind

LISTED = Listed("gauge-study", "Gauge study", Subject(SubjectKind.OTHER, "Gauge"))
