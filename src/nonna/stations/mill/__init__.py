"""The vertical mill: a setter on its table, a probe in its spindle, a loop of ten links."""

from nonna.stations.kind import Chain, StationKind
from nonna.stations.mill.loop import LOOP, grown
from nonna.stations.mill.scenes import SCENES

KIND = StationKind(
    key="mill",
    words="vertical mill",
    loop=LOOP,
    scenes=SCENES,
    chains=(
        Chain("tool-length", "length_mm", "{}'s length", own=True),
        Chain("probe-ring", "ball_radius_mm", "a measured diameter", times=2.0),
    ),
    grown=grown,
    standin="nonna.stations.mill.standin.measuring:STANDIN",
    program="nonna.stations.mill.tool_program:PROGRAM",
    set_up="nonna.stations.cutting",
    by_probe=frozenset({"runout", "ring", "probe", "closure", "proof"}),
)
