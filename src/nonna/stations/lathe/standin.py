"""The stand-in lathe: what is really so, which only its readings tell of. Its Z 0 is the spindle's face, its X 0 the
axis.

True places are in real millimetres, X as a radius; readings are as the machine shows them. A tip stands at the
machine's position plus the tool's own offset; the arm triggers late by direction and never seats quite the same.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

import numpy as np
from numpy.random import Generator

from nonna.errors import NonnaError
from nonna.procedures.shown import XShows, real_per_shown
from nonna.shop.cards.machine import Tool
from nonna.shop.texts.given import Given, Row, as_number
from nonna.standin.probing import faults_add
from nonna.standin.wishes import SECONDS_A_READING, Measured, SheetWish, Standin, Watch
from nonna.standin.world import World
from nonna.stations.lathe.ways import USUAL, WAYS, way_of

RESOLUTION_MM = 0.001  #: of the axes, as shown
ARM_MM = (
    62.0,
    318.0,
)  #: about where the middle of the arm's stylus swings to: radius, distance from the spindle's face
STYLUS_MM = 10.0  #: width of its cube
CUT_MM, FACE_MM = 17.993, 96.412  #: radius and face of the test cut
BALL_MM, FOIL_U_MM = 6.0, 0.0005


@dataclass(frozen=True, slots=True)
class LatheTruth:
    """What is really so; mm, X as a radius."""

    reference: Mapping[str, float]  #: of the reference tool, by axis
    planes: Mapping[str, float]  #: where a tip is when a face triggers, by face
    seating: float  #: how far the arm comes back elsewhere, one standard deviation
    touch: float  #: scatter of one touch
    ball: Mapping[str, float]  #: effective diameter, inside and outside
    probe: Mapping[str, float]  #: of the ball's middle, by axis
    centre: Mapping[
        str, float
    ]  #: of the turret: a station on the centre line stands so far off, by axis (X as an offset)
    eccentric: float
    phase: float
    lobes: float  #: the bar's own form
    stylus_runout: float
    spring: float  #: how far a part gives way to the tool

    @classmethod
    def of(cls, seed: int) -> LatheTruth:
        """Return what is so on the lathe of a seed: the same seed is the same machine."""
        dice = np.random.default_rng([seed, 51])
        half, at = STYLUS_MM / 2.0, dict(zip("xz", ARM_MM, strict=True))
        late = {face: float(dice.uniform(0.001, 0.006)) for face in ("+x", "-x", "+z", "-z")}  # pre-travel by direction
        middle = {axis: value + float(dice.normal(0.0, 0.05)) for axis, value in at.items()}
        return cls(
            reference={"x": 81.2 + float(dice.normal(0.0, 0.2)), "z": 142.6 + float(dice.normal(0.0, 0.2))},
            planes={
                face: middle[face[1]] + (1 if face[0] == "+" else -1) * (half - late[face]) for face in late
            },
            seating=float(dice.uniform(0.0006, 0.0010)),
            touch=float(dice.uniform(0.0004, 0.0008)),
            ball={side: BALL_MM - float(dice.uniform(*way)) for side,
                way in (("internal", (0.006, 0.010)), ("external", (0.002, 0.005)))},
            probe={"x": 77.4, "y": 0.0, "z": 156.1},
            eccentric=float(dice.uniform(0.003, 0.006)),
            phase=float(dice.uniform(0.0, 2.0 * math.pi)),
            lobes=float(dice.uniform(0.0006, 0.0012)),
            stylus_runout=float(dice.uniform(0.0008, 0.0014)),
            centre={"x": 62.95 + float(dice.normal(0.0, 0.01)), "y": float(dice.normal(0.0, 0.01))},
            spring=float(dice.uniform(0.002, 0.004)),
        )  # fmt: skip

    def tip(self, number: int, seed: int) -> dict[str, float]:
        """Return a tool's true offsets by axis: its holder's, and what its insert makes of them."""
        dice = np.random.default_rng([seed, 52, number])
        return {"x": 60.0 + 8.0 * float(dice.random()), "z": 120.0 + 40.0 * float(dice.random())}


def measure(job: SheetWish, world: World, watch: Watch | None = None) -> Measured:
    """Measure on the stand-in lathe. Raises: NonnaError (it cannot be done, with the reason); whatever ``watch``
    raises.
    """
    if job.taking not in _BY_HAND:
        raise job.refused("lathe's ")
    found = _BY_HAND[job.taking](
        _Run(job, LatheTruth.of(world.seed), np.random.default_rng([world.seed, job.run, 53]), world)
    )
    rows, setup = found if isinstance(found, tuple) else (found, {})
    for i in range(len(rows)):
        if watch is not None:
            watch(i + 1, len(rows), (i + 1) * SECONDS_A_READING)
    return Measured(rows, "", setup)


@dataclass(frozen=True, slots=True)
class _Run:
    """One go at a sheet; the arm is swung in and out between the touches of a face, as the sheet says."""

    job: SheetWish
    truth: LatheTruth
    dice: Generator
    world: World
    touches: list[float] = field(default_factory=list)  #: so far, what faults and warming added to each

    @property
    def shows(self) -> XShows:
        return "radius" if self.job.setup.get("x_shows") == "radius" else "diameter"

    def scatter(self, size: float) -> float:
        return float(self.dice.normal(0.0, size))

    def shown(self, axis: str, real: float) -> float:
        """Return what the axis shows at a real place, to its last digit."""
        step = RESOLUTION_MM
        return round(round(real / real_per_shown(axis, self.shows) / step) * step, 6)

    def touched(self, axis: str, real: float) -> float:
        """Return what is shown at a touch; a warming headstock grows along Z twice as much as across."""
        off = faults_add(self.world, self.dice, len(self.touches)) * (2.0 if axis == "z" and self.warms else 1.0)
        self.touches.append(off)
        return self.shown(axis, real + off + self.scatter(self.truth.touch))

    @property
    def warms(self) -> bool:
        return "drifting-temperature" in self.world.faults


Rows = list[Row]


def _cut(run: _Run) -> tuple[Rows, dict[str, float]]:
    """A step is turned and faced where the axes are told to; the micrometer reads it with its own error."""
    indicator = run.job.setup.part("indicator")
    off = float(run.dice.uniform(-1.0, 1.0)) * indicator.number("mpe_mm", 0.0)
    step = indicator.number("resolution_mm") or RESOLUTION_MM
    real = {"x": CUT_MM, "z": FACE_MM}
    at = {axis: run.shown(axis, real[axis] - run.truth.reference[axis]) for axis in "xz"}
    became = {axis: at[axis] * real_per_shown(axis, run.shows) + run.truth.reference[axis] for axis in "xz"}
    rows: Rows = []
    for slot in run.job.slots:
        size = 2.0 * became["x"] if slot["axis"] == "x" else became["z"]
        rows.append({**slot, "value_mm": round(round((size + off + run.scatter(0.0007)) / step) * step, 6)})
    return rows, {f"machine_{axis}_mm": value for axis, value in at.items()}


def _on_master(run: _Run) -> tuple[Rows, dict[str, float]]:
    """The reference tool on a master in the chuck, that runs out a little; a foil between."""
    master = run.job.masters.get("master", Given({}))
    if not master.get("diameter_mm"):
        raise NonnaError("missing-field", "The master has no diameter on its card.", "masters.master")
    foil, off = 0.05, 0.008 * math.cos(run.truth.phase)
    thick = foil + float(np.random.default_rng([run.world.seed, 56]).normal(0.0, FOIL_U_MM))
    real = {"x": 0.5 * _true_diameter(run, master) + thick, "z": FACE_MM + thick}
    rows: Rows = []
    for slot in run.job.slots:
        axis = str(slot["axis"])
        side = (1 if slot["chuck_deg"] == 0 else -1) * (off if axis == "x" else 0.0)
        rows.append({**slot, "position_mm": run.touched(axis, real[axis] + side - run.truth.reference[axis])})
    return rows, {
        "feeler_mm": foil,
        "feeler_u_mm": FOIL_U_MM,
        "face_mm": round(FACE_MM + run.scatter(0.001), 3),
        "face_u_mm": 0.001,
    }


def _true_diameter(run: _Run, master: Given) -> float:
    """Return how large a master really is: within what its certificate says, the same each time."""
    size = master.number("diameter_mm", 0.0)
    u = master.number("U_diameter_mm", 0.0) / (master.number("k") or 2.0)
    made = np.random.default_rng([run.job.seed, round(size * 1000), 54])
    return size + float(made.normal(0.0, u))


def _arm(run: _Run) -> Rows:
    rows: Rows = []
    for slot in run.job.slots:
        face = str(slot["face"])
        axis = face[1]
        rows.append(
            {
                **slot,
                "position_mm": run.touched(
                    axis, run.truth.planes[face] + run.scatter(run.truth.seating) - run.truth.reference[axis]
                ),
            }
        )
    return rows


def tip_offsets(tool: Tool, truth: LatheTruth, world: World) -> dict[str, float]:
    """Return where a tip really is from the turret's zero, by axis: real mm, X as a radius; less of it once it
    broke.
    """
    own = truth.tip(tool.number, world.seed)
    way = way_of(tool.edge if tool.edge in WAYS else USUAL)
    if way.on_centre_line:
        own["x"] = truth.centre["x"]  # its station stands on the turret's centre line
    for face in (way.x_face, "" if way.other_flank else way.z_face):
        if face:
            own[face[1]] -= (1 if face[0] == "+" else -1) * world.longer.get(tool.number, 0.0)
    return own


def _tip(run: _Run) -> Rows:
    tool = next((t for t in run.job.tools if t.subject == run.job.subject), None)
    if tool is None:
        words = "{words} is not in this turret."
        raise NonnaError("missing-field", words, "subject", words=run.job.subject.words)
    own = tip_offsets(tool, run.truth, run.world)
    by_axis = {face[1]: face for face in way_of(run.job.variant).faces}
    rows: Rows = []
    for slot in run.job.slots:
        axis = str(slot["axis"])
        face = str(slot.get("face") or by_axis[axis])
        flank = (1 if face[0] == "+" else -1) * tool.diameter_mm / 2.0 if "face" in slot else 0.0
        at = run.truth.planes[face] + run.scatter(run.truth.seating) - own[axis] + flank
        rows.append({**slot, "position_mm": run.touched(axis, at)})
    return rows


def _seating(run: _Run) -> Rows:
    """The arm swung in and out before each touch."""
    real = run.truth.planes["+x"] - run.truth.reference["x"]
    return [
        {"value_mm": round(real + run.scatter(math.hypot(run.truth.seating, run.truth.touch)), 4)}
        for _ in run.job.slots
    ]


def _ring(run: _Run) -> Rows:
    """Half the way between the two touches of a ring, or round it."""
    ring = run.job.masters.get("ring", Given({}))
    if not ring.get("diameter_mm"):
        raise NonnaError("missing-field", "The ring has no diameter on its card.", "masters.ring")
    side, axis = str(run.job.setup.get("side", "internal")), str(run.job.setup.get("axis", "x"))
    return _across(run, _true_diameter(run, ring), side, axis)


def _across(run: _Run, size: float, side: str, axis: str) -> Rows:
    ball = 0.0 if side == "distance" else run.truth.ball["internal" if side in ("internal", "groove") else "external"]
    wide = size - ball if side in ("internal", "groove") else size + ball
    middle = -run.truth.probe[axis] if axis != "z" else FACE_MM - run.truth.probe["z"]
    return [
        {**slot, "position_mm": run.touched(axis, middle + (0.5 if slot["at"] == "+" else -0.5) * wide)}
        for slot in run.job.slots
    ]


def _part(run: _Run) -> Rows:
    """A part out of the machine: it sprang away from the tool, so that it is larger outside and smaller inside."""
    setup = run.job.setup
    nominal = setup.number("nominal_mm")
    if nominal is None:
        raise NonnaError("missing-field", "Say first what size it should be (F9).", "setup.nominal_mm")
    feature = str(setup.get("feature", "diameter"))
    axis = str(setup.get("axis") or ("x" if feature == "diameter" else "z"))
    side = str(setup.get("side", "external")) if feature == "diameter" else feature
    sprung = 2.0 * run.truth.spring * {"external": 1.0, "internal": -1.0}.get(side, 0.0)
    return _across(run, nominal + sprung + run.scatter(0.003), side, axis)


def _chuck(run: _Run) -> Rows:
    rows: Rows = []
    for slot in run.job.slots:
        turn = math.radians(as_number(slot["angle_deg"]))
        reach = run.truth.eccentric * math.cos(turn - run.truth.phase) + run.truth.lobes * math.cos(3.0 * turn)
        rows.append({**slot, "position_mm": run.touched("x", CUT_MM + BALL_MM / 2.0 - run.truth.probe["x"] + reach)})
    return rows


def _centre(run: _Run) -> tuple[Rows, dict[str, float]]:
    """The bar about on the axis; the dial sees what it stands off."""
    step = run.job.setup.part("indicator").number("resolution_mm") or RESOLUTION_MM
    at = run.shown("x", 0.008 - run.truth.centre["x"])
    off = {"x": at * real_per_shown("x", run.shows) + run.truth.centre["x"], "y": run.truth.centre["y"]}
    rows: Rows = []
    for slot in run.job.slots:
        side = str(slot["at"])
        value = 0.05 + (1 if side[0] == "+" else -1) * off[side[1]] + run.scatter(0.0005)
        rows.append({**slot, "value_mm": round(round(value / step) * step, 6)})
    return rows, {"machine_x_mm": at}


def _runout(run: _Run) -> Rows:
    step = run.job.setup.part("indicator").number("resolution_mm") or RESOLUTION_MM
    rows: Rows = []
    for slot in run.job.slots:
        turn = math.radians(as_number(slot["angle_deg"])) - run.truth.phase
        value = 0.01 + run.truth.stylus_runout * math.cos(turn) + run.scatter(0.0003)
        rows.append({**slot, "value_mm": round(round(value / step) * step, 6)})
    return rows


_BY_HAND: dict[str, Callable[[_Run], Rows | tuple[Rows, dict[str, float]]]] = {
    "step-turned": _cut, "arm-faces": _arm, "tip-on-arm": _tip, "repeated-touch": _seating, "ring-across": _ring,
    "part-across": _part, "part-turned": _chuck, "dial-round": _runout, "dial-round-turret": _centre,
    "tool-on-master": _on_master,
}  # fmt: skip

STANDIN = Standin(measure)
