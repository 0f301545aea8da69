"""A machine that measures its tools by programs of its own: a line a tool, and it reads itself."""

from nonna.shop.links.loop import Link, LinkSort, Loop
from nonna.stations.kind import StationKind

LOOP = Loop(
    {"head": "The only branch"},
    (Link("tools", "Tools", "Tools", "repeatability", holds_days=30, minutes=1.0, branch="head", sort=LinkSort.EACH),),
)
KIND = StationKind("prober", "prober", LOOP, program="nonna.stations.prober.program:PROGRAM")
