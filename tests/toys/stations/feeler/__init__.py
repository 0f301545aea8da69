"""A feeler on a stand: set to zero on a block, then checked, then proved."""

from nonna.figures.figure import Label, box
from nonna.shop.links.loop import EventKind, Link, LinkSort, Loop
from nonna.shop.links.subjects import Subject
from nonna.stations.kind import Chain, StationKind

FEELER = Subject.of("Feeler")
LOOP = Loop(
    {"stand": "The stand's only branch"},
    (
        Link("block", "Block", "Send the block away", branch="stand", master_kind="block", sort=LinkSort.CERTIFICATE),
        Link("zero", "Zero", "Set the feeler to zero", "feeler-zero", FEELER, ("block",), 30, 2, ("Soft cloth",),
            "stand"),
        Link("check", "Check", "Check the feeler", "repeatability", FEELER, ("zero",), 60, 3, (), "stand", shows="2 s"),
    ),
    (EventKind("dropped", "Feeler dropped", frozenset({"zero"}), FEELER),),
)  # fmt: skip
KIND = StationKind(
    "feeler", "feeler stand", LOOP,
    scenes={"zero": lambda x, _: [box(x - 10, 0, x + 10, 80, "steel", None), Label((x, 90), "0")]},
    chains=(Chain("feeler-zero", "zero_mm", "the feeler's zero"),),
    standin="nonna.stations.feeler.standin:STANDIN",
)  # fmt: skip
