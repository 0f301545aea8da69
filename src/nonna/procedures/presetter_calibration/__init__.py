"""Presetter calibration: zero and scale of both axes from two masters, proved on a third."""

from nonna.procedures.listing import Listed
from nonna.shop.links.subjects import PRESETTER

LISTED = Listed(
    "presetter-calibration",
    "Presetter calibration",
    PRESETTER,
    offers={
        f"presetter.{axis}_{result}": f"{axis}_{result}"
        for axis in "zx"
        for result in ("offset_mm", "pivot_mm", "scale_ppm")
    },
)
