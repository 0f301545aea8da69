"""A part measured by the turret probe: diameter, distance, groove, rib; and what the wear column should be."""

from nonna.procedures.listing import Listed
from nonna.shop.links.subjects import Subject

LISTED = Listed("lathe-measure", "Part on the lathe", Subject.of("Part"), stored={"new_wear_mm": "wear-x"})
