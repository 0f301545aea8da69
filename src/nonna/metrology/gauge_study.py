"""How much of what is seen is the gauge: crossed study by analysis of variance, and one gauge on one part.

Sources: ISO/TR 12888 and ISO 22514-7 (crossed studies by two-way analysis of variance with interaction, capability
indices of a gauge); D. C. Montgomery & G. C. Runger, Quality Engineering 6 (1993) 289-305.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import special

from nonna.errors import NoRepeatabilityError
from nonna.metrology.doubt.quantiles import two_sided_p
from nonna.metrology.doubt.scatter import ROOT_12

POOLED_FROM_P = 0.25  #: an interaction more likely than this by chance is scatter
CATEGORIES = 1.41
SHARE_CG, SHARE_CGK = 0.2, 0.1


@dataclass(frozen=True, slots=True)
class Crossed:
    """Components of a crossed study, standard deviations."""

    repeatability: float
    reproducibility: float
    parts: float
    interaction_p: float

    @property
    def both(self) -> float:
        """Of the gauge as a whole."""
        return math.hypot(self.repeatability, self.reproducibility)

    @property
    def total(self) -> float:
        """Of all that is seen."""
        return math.hypot(self.both, self.parts)

    @property
    def categories(self) -> int:
        """How many kinds of parts the gauge can tell apart."""
        return math.floor(CATEGORIES * self.parts / self.both)

    def share(self, component: float) -> float:
        """Return a component's share of the whole variance."""
        return (component / self.total) ** 2


def crossed(x: NDArray[np.float64], resolution: float = 0.0) -> Crossed:
    """Return the components of a balanced study.

    Parameters: x (parts, appraisers, repeats), mm, at least two of each; resolution of the display (mm): no gauge
    repeats better than that over the root of twelve. Raises: NoRepeatabilityError (nothing scatters).
    """
    p, o, r = x.shape
    mean = x.mean()
    part, appraiser, cell = x.mean(axis=(1, 2)), x.mean(axis=(0, 2)), x.mean(axis=2)
    ss_p, ss_o = o * r * ((part - mean) ** 2).sum(), p * r * ((appraiser - mean) ** 2).sum()
    ss_i = r * ((cell - part[:, None] - appraiser[None, :] + mean) ** 2).sum()
    ss_e = ((x - cell[:, :, None]) ** 2).sum()
    floor = x.size * (64.0 * np.finfo(float).eps * np.abs(x).max(initial=0.0)) ** 2
    ss_i, ss_e = (0.0 if ss <= floor else float(ss) for ss in (ss_i, ss_e))
    df_i, df_e = (p - 1) * (o - 1), p * o * (r - 1)
    ms_p, ms_o, ms_i, ms_e = ss_p / (p - 1), ss_o / (o - 1), ss_i / df_i, ss_e / df_e
    by_chance = float(special.fdtrc(df_i, df_e, ms_i / ms_e)) if ms_e > 0.0 else (0.0 if ms_i > 0.0 else 1.0)
    if by_chance > POOLED_FROM_P:
        ms_e = (ss_i + ss_e) / (df_i + df_e)
        against, interaction = ms_e, 0.0
    else:
        against, interaction = ms_i, max(0.0, (ms_i - ms_e) / r)
    reproducibility = math.sqrt(max(0.0, (ms_o - against) / (p * r)) + interaction)
    found = Crossed(
        max(math.sqrt(ms_e), resolution / ROOT_12),
        reproducibility,
        math.sqrt(max(0.0, (ms_p - against) / (o * r))),
        by_chance,
    )
    if found.both <= 0.0:
        raise NoRepeatabilityError(
            "All readings of a part are the same: the gauge's scatter is hidden by its last digit."
        )
    return found


@dataclass(frozen=True, slots=True)
class Single:
    """One gauge on one part of known size."""

    bias: float
    s: float
    n: int
    bias_p: float  #: by chance alone

    def cg(self, tolerance: float) -> float:
        """Return ``0.2 T / 6 s``."""
        return SHARE_CG * tolerance / (6.0 * self.s)

    def cgk(self, tolerance: float) -> float:
        """Return ``(0.1 T - |bias|) / 3 s``."""
        return (SHARE_CGK * tolerance - abs(self.bias)) / (3.0 * self.s)


def single(values: Sequence[float], reference: float, resolution: float = 0.0) -> Single:
    """Return bias and scatter, two values at least; resolution of the display as in `crossed`.

    Raises: NoRepeatabilityError (nothing scatters and no resolution is known).
    """
    x = np.asarray(values, dtype=float)
    s = max(float(x.std(ddof=1)), resolution / ROOT_12)
    if s <= 64.0 * np.finfo(float).eps * float(np.abs(x).max()):
        raise NoRepeatabilityError("All readings are the same: the gauge's scatter is hidden by its last digit.")
    bias = float(x.mean()) - reference
    return Single(bias, s, x.size, two_sided_p(bias / (s / math.sqrt(x.size)), x.size - 1))
