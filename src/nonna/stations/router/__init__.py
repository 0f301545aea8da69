"""The gantry router: a touch plate, a rack of tool pockets, a home that has to be found again after each start."""

from nonna.stations.kind import Chain, StationKind
from nonna.stations.router.loop import LOOP
from nonna.stations.router.scenes import SCENES

KIND = StationKind(
    key="router",
    words="gantry router",
    loop=LOOP,
    scenes=SCENES,
    chains=(Chain("tool-length", "length_mm", "{}'s length", own=True),),
    standin="nonna.stations.router.standin:STANDIN",
    program="nonna.stations.mill.tool_program:PROGRAM",
    set_up="nonna.stations.cutting",
)
