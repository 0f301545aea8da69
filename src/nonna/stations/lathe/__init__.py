"""The lathe: reference tool, swing-arm setter, tips; the turret probe, parts and wear; the chuck."""

from nonna.stations.kind import Chain, Parts, StationKind
from nonna.stations.lathe.loop import LOOP
from nonna.stations.lathe.scenes import SCENES

KIND = StationKind(
    key="lathe", words="lathe", loop=LOOP, scenes=SCENES, standin="nonna.stations.lathe.standin:STANDIN",
    program="nonna.stations.lathe.tool_program:PROGRAM",
    set_up="nonna.stations.lathe.questions", tool_fields="nonna.stations.lathe.tool_fields:tool_fields",
    by_probe=frozenset({"alignment", "ring", "parts"}),
    parts=Parts("lathe-measure", "new_wear_mm"),
    chains=(
        Chain("lathe-tip", "offset_z_mm", "{}'s Z offset", own=True),
        Chain("lathe-measure", "size_mm", "the size of a part"),
    ),
)  # fmt: skip
