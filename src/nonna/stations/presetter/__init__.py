"""The presetter: tools measured beside the machines, its calibration on masters, its transfer to each machine."""

from nonna.stations.kind import Chain, StationKind
from nonna.stations.presetter.loop import LOOP, grown
from nonna.stations.presetter.scenes import SCENES

KIND = StationKind(
    key="presetter",
    words="presetter",
    loop=LOOP,
    scenes=SCENES,
    chains=(
        Chain("presetter-tool", "length_mm", "{}'s length", own=True),
        Chain("presetter-calibration", "z_offset_mm", "the zero of the length"),
    ),
    grown=grown,
    standin="nonna.stations.presetter.standin:STANDIN",
    by_line=frozenset({"master-read", "tool-read"}),
    set_up="nonna.stations.presetter.questions",
)
