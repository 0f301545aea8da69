"""Which way a lathe's tip cuts, in words, and which faces of the arm its edges therefore look at."""

from __future__ import annotations

from typing import NamedTuple

from nonna.figures.lathe import TipShape


class Way(NamedTuple):
    """A tip's way: faces are the sides of the arm's stylus the tip stands on when it touches, "" for none."""

    words: str
    x_face: str
    z_face: str
    other_flank: str = ""  #: touched too: Z is then the tool's axis, half way between its flanks
    on_centre_line: bool = False  #: X is not touched: it is the turret's centre line
    turns: bool = False  #: in a driven holder: a tooth has to be turned to the face by hand

    @property
    def from_inside(self) -> bool:
        """Whether it touches from the axis' side, reaching under the stylus."""
        return self.x_face == "-x"

    @property
    def behind(self) -> bool:
        """Whether its tip stands on the chuck's side of the stylus."""
        return self.z_face == "-z"

    @property
    def is_bar(self) -> bool:
        """Whether it reaches along the axis."""
        return self.from_inside or self.on_centre_line

    @property
    def is_round(self) -> bool:
        """Whether its tip is on its own axis."""
        return self.on_centre_line or bool(self.other_flank)

    @property
    def shape(self) -> TipShape:
        """What is drawn."""
        return "cutter" if self.turns else "drill" if self.on_centre_line else "insert"

    @property
    def faces(self) -> tuple[str, ...]:
        """The faces that are touched, X first."""
        return tuple(face for face in (self.x_face, self.z_face, self.other_flank) if face)


WAYS = {
    "outside-chuck": Way("Outside, cutting towards the chuck", "+x", "+z"),
    "outside-away": Way("Outside, cutting away from the chuck", "+x", "-z"),
    "inside-chuck": Way("Inside, cutting towards the chuck", "-x", "+z"),
    "inside-away": Way("Inside, cutting away from the chuck", "-x", "-z"),
    "outside": Way("Outside, both ways: a round or pointed tip", "+x", ""),
    "inside": Way("Inside, both ways", "-x", ""),
    "facing": Way("Facing only, towards the chuck", "", "+z"),
    "back": Way("Back facing only", "", "-z"),
    "drill": Way("On the centre line: a drill, tap or boring head", "", "+z", on_centre_line=True),
    "axial": Way("Driven, in an axial holder", "", "+z", on_centre_line=True, turns=True),
    "radial": Way("Driven, in a radial holder", "+x", "+z", "-z", turns=True),
}
USUAL = "outside-chuck"  #: where nobody said


def way_of(key: str) -> Way:
    """Return a way by its key, the usual one where nobody said which."""
    return WAYS[key or USUAL]
