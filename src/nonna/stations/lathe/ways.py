"""Which way a lathe's tip cuts, in words, and which faces of the arm its edges therefore look at."""

from __future__ import annotations

WAYS = {  # the faces its edges look at: tip stands on that side of the arm's stylus
    "outside-chuck": ("Outside, cutting towards the chuck", "+x", "+z"),
    "outside-away": ("Outside, cutting away from the chuck", "+x", "-z"),
    "inside-chuck": ("Inside, cutting towards the chuck", "-x", "+z"),
    "inside-away": ("Inside, cutting away from the chuck", "-x", "-z"),
    "outside": ("Outside, both ways: a round or pointed tip", "+x", ""),
    "inside": ("Inside, both ways", "-x", ""),
    "facing": ("Facing only, towards the chuck", "", "+z"),
    "back": ("Back facing only", "", "-z"),
    "drill": ("On the centre line: a drill, tap or boring head", "", "+z"),
}
