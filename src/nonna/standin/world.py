"""What hands and time change on the stand-in machine: how it leans, how the ball runs, what is faulty.

Only the stand-in reads this. One world lasts while a shop is open, so that what was dialled in stays so.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.random import Generator
from numpy.typing import NDArray

FAULTS = (
    "loose-stylus",
    "low-battery",
    "drifting-temperature",
    "setter-knocked-askew",
    "homing-scatter",
    "sticky-dial",
)
FAULT_WORDS = {
    "loose-stylus": "the stylus was loose: the ball sat somewhere else at each touch",
    "low-battery": "the probe's battery was low: now and then a trigger came late",
    "drifting-temperature": "the machine was warming up all the while",
    "setter-knocked-askew": "the setter's pad leaned",
    "homing-scatter": "the axes found their home somewhere else each time",
    "sticky-dial": "the dial stuck: it lagged behind by two micrometres",
}
HAND_LOW, HAND_HIGH, HAND_MM = 0.85, 1.05, 0.0005  #: how true a hand follows advice: springs back, friction


@dataclass(slots=True)
class World:
    """The hidden state of one shop's stand-in machine; mm and radians."""

    seed: int
    ball_xy: NDArray[np.float64]  #: of the ball from the spindle axis, spindle at 0 degrees
    key_mm_per_deg: Mapping[float, float]  #: by screw axis (degrees modulo 180)
    lean: NDArray[np.float64]  #: slopes of the setter's pad in X and Y
    beam: NDArray[np.float64]  #: slopes of the light beam in Z and across
    probe_length: float
    ball_radius: float  #: effective
    lobes: float  #: amplitude of the three-lobed pre-travel
    faults: set[str] = field(default_factory=set)
    longer: dict[int, float] = field(default_factory=dict)  #: by tool: pulled out (+) or broken off (-) since, mm

    @classmethod
    def from_seed(
        cls, seed: int, probe_length: float = 121.5, ball_mm: float = 6.0, faults: Sequence[str] = ()
    ) -> World:
        """Make a world: the same seed gives the same one. Raises: ValueError (no such fault)."""
        unknown = set(faults) - set(FAULTS)
        if unknown:
            raise ValueError(f"no such fault: {', '.join(sorted(unknown))}")
        dice = np.random.default_rng([seed, 7])
        high = dice.uniform(0.0, 2.0 * math.pi)
        return cls(
            seed=seed,
            ball_xy=dice.uniform(0.015, 0.03) * np.array([math.cos(high), math.sin(high)]),
            key_mm_per_deg={axis: 0.0005 * 3.0 ** dice.uniform(-1.0, 1.0) for axis in (0.0, 90.0)},
            lean=dice.choice([-1.0, 1.0], 2) * dice.uniform(5e-4, 1.2e-3, 2),
            beam=dice.choice([-1.0, 1.0], 2) * dice.uniform([3e-4, 1e-3], [8e-4, 4e-3]),
            probe_length=probe_length + float(dice.normal(0.0, 0.1)),
            ball_radius=ball_mm / 2.0 - float(dice.uniform(0.003, 0.006)),
            lobes=float(dice.uniform(0.0003, 0.0007)),
            faults=set(faults),
        )

    def dice(self, run: int, salt: int) -> Generator:
        """Return the scatter of one run."""
        return np.random.default_rng([self.seed, run, salt])

    def hide_a_fault(self, run: int) -> None:
        """Break something, for practice; which, only `found` tells."""
        self.faults = {str(np.random.default_rng([self.seed, run, 9]).choice(FAULTS))}
        if "setter-knocked-askew" in self.faults:
            self.lean = self.lean + np.array([0.002, -0.0015])

    def spoil_a_tool(self, numbers: Sequence[int], run: int) -> None:
        """Break a tool or pull one out of its holder, for practice; which, only measuring tells."""
        dice = np.random.default_rng([self.seed, run, 10])
        number = int(dice.choice(list(numbers)))
        self.longer[number] = float(dice.choice([-1.0, 1.0]) * dice.uniform(0.4, 0.9))

    def mend_faults(self) -> tuple[str, ...]:
        """Mend what was hidden and say in words what it was."""
        words = tuple(FAULT_WORDS[name] for name in sorted(self.faults))
        words += tuple(
            f"T{n} was {'pulled out' if mm > 0 else 'broken'} by {abs(mm):.2f} mm"
            for n, mm in sorted(self.longer.items())
        )
        self.faults, self.longer = set(), {}
        return words

    def turn_ball_screw(self, screw_deg: float, drop_mm: float, run: int) -> float:
        """Tighten a screw until the dial has dropped so far, as a hand does; returns the degrees the key went."""
        done = self._by_hand(max(0.001, round(drop_mm, 3)), run, int(screw_deg))
        way = math.radians(screw_deg)
        self.ball_xy = self.ball_xy - done * np.array([math.cos(way), math.sin(way)])
        axis = min(self.key_mm_per_deg, key=lambda a: abs((screw_deg - a + 90.0) % 180.0 - 90.0))
        return done / self.key_mm_per_deg[axis]

    def turn_level_screw(self, screw: str, rise_mm: float, screws: Sequence[Mapping[str, object]], run: int) -> None:
        """Raise or lower the setter at one screw about the pivot, the other screws staying.

        Raises: KeyError (no such screw).
        """
        places = {str(s["name"]): (float(str(s["x_mm"])), float(str(s["y_mm"]))) for s in screws}
        at = places[screw]
        pivot = next((places[str(s["name"])] for s in screws if s.get("pivot")), (0.0, 0.0))
        others = [p for name, p in places.items() if p not in (at, pivot)]
        arms = np.array([at, *others]) - np.array(pivot)
        wanted = np.zeros(len(arms))
        wanted[0] = math.copysign(self._by_hand(abs(rise_mm), run, len(screw)), rise_mm)
        self.lean = self.lean + np.linalg.lstsq(arms, wanted, rcond=None)[0]

    def turn_beam(self, rise_mm: float, distance_mm: float, run: int) -> None:
        """Raise the beam's adjuster by so much."""
        done = math.copysign(self._by_hand(abs(rise_mm), run, 1), rise_mm)
        self.beam = self.beam + np.array([done / distance_mm, 0.0])

    def _by_hand(self, wanted: float, run: int, salt: int) -> float:
        dice = self.dice(run, 100 + salt)
        return max(0.0, wanted * dice.uniform(HAND_LOW, HAND_HIGH) + dice.uniform(-HAND_MM, HAND_MM))
