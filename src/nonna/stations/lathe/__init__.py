"""The lathe: reference tool, swing-arm setter, tips; the turret probe, parts and wear; the chuck. No stand-in yet."""

from nonna.stations.kind import Chain, StationKind
from nonna.stations.lathe.loop import LOOP

KIND = StationKind(
    key="lathe", words="lathe", loop=LOOP,
    chains=(
        Chain("lathe-tip", "offset_z_mm", "{}'s Z offset", own=True),
        Chain("lathe-measure", "size_mm", "the size of a part"),
    ),
)  # fmt: skip
