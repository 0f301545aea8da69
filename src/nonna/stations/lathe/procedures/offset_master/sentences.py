"""Reference tool on a master in the chuck: what it says."""

from __future__ import annotations

from nonna.procedures.telling import saying

said = saying("lathe-offset-master")


SENTENCES = {
    "found": "{axis} offset of the reference tool {value:length}, ± {U:small}.",
    "runs": "The master stands {value:small} off the axis; touched on both sides of a half turn it cancels.",
    "one-side": "Touched at one angle of the chuck alone: how far the master stands off the axis is in the offset "
    "and in its doubt. Turn the chuck by half a turn and touch again.",
    "sign": "Sign it; the arm is calibrated with this tool.",
}
