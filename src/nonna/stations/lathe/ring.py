"""The turret probe in a ring, or on the part itself: its effective ball, inside and outside apart."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from nonna.errors import TooFewReadingsError
from nonna.figures.figure import Figure
from nonna.figures.lathe import ring_figure
from nonna.metrology.thermal import at_temperature
from nonna.metrology.uncertain import Influences
from nonna.procedures.evaluation import Evaluation, Quantity
from nonna.procedures.inputs import (
    Dof,
    Master,
    Masters,
    ReadingsFile,
    asked,
    carried_dof,
    carried_u,
    master_flags,
    require,
)
from nonna.procedures.sheet import REPEATABILITY, Bench, Caution, Procedure, Slot, Step, Variant
from nonna.procedures.shown import XShows, as_shown, x_shows
from nonna.procedures.telling import saying
from nonna.shop.strict_model import NotNegative, Number, Strict
from nonna.stations.lathe.axes import Deep, across, carried_value, enter_shown
from nonna.wording.lengths import Units

Side = Literal["internal", "external"]
TOUCHES = 3
said = saying("lathe-ring")
SENTENCES = {
    "found": "Effective ball {value:length}, ± {U:small}, {side}.",
    "centre": "Centre at {centre:length} as shown.",
    "sign": "Sign it; inside and outside are calibrated apart.",
}


class LatheRingSetup(Deep):
    """Setup of a ring."""

    side: Side = asked("Touched", "", "In the ring, or round it.")
    x_shows: XShows = x_shows()
    axis: Literal["x", "y"] = asked("Axis", "", "That the probe moves on.", "x")
    centre_mm: Number | None = asked("Centre", help="As shown; needed where one side only is touched.", default=None)
    centre_u_mm: NotNegative = carried_u("Its standard uncertainty")
    centre_dof: Dof | None = carried_dof()


class LatheRingMasters(Masters):
    """A ring, or the part itself with its micrometer's uncertainty."""

    ring: Master


class RingTouch(Strict):
    """Machine position at one trigger, on the + or - side of the centre."""

    at: Literal["+", "-"]
    position_mm: Number


class LatheRingReadings(ReadingsFile):
    """Readings file of a ring."""

    procedure: Literal["lathe-ring"]
    setup: LatheRingSetup
    masters: LatheRingMasters
    readings: list[RingTouch]


class LatheRing(Procedure):
    """``A = f (mean+ - mean-)``; ball internal ``D(T) - A``, external ``A - D(T)``; one touch ``A = 2 f |mean - centre|``."""

    name = "lathe-ring"
    sentences = SENTENCES
    model = LatheRingReadings
    main = ("ball_diameter_mm",)
    main_title = "Effective ball"
    role = "ring"
    master_kinds = ("ring", "master-tool")
    offered: ClassVar[dict[str, Any]] = {"side": "internal", "x_shows": "diameter", "resolution_mm": 0.001}
    carries = REPEATABILITY
    variants = (
        Variant("internal", "In the ring", {"side": "internal"}, ("ring",)),
        Variant("external", "Round a pin", {"side": "external"}),
        Variant("part", "Round the part itself, its micrometer for a master", {"side": "external"}, ("part",)),
    )
    reads: ClassVar[dict[str, str]] = {}  # as shown: by the machine's zero or the part's, nobody says which
    caution = Caution(
        "The stem must not touch the shoulder",
        "Probe awake, spindle stopped, doors shut, rapid turned down, a finger on feed hold. Jog with the smallest step near the ring.",
    )

    def _evaluate(self, file: LatheRingReadings) -> Evaluation:
        setup, ring = file.setup, file.masters.ring
        setup.must_reach()
        require(ring.diameter_mm, "masters.ring.diameter_mm", positive=True)
        sides = {at: [r.position_mm for r in file.readings if r.at == at] for at in ("+", "-")}
        sides = {at: values for at, values in sides.items() if values}
        if not sides:
            raise TooFewReadingsError("Nothing was touched yet.")
        influences = Influences()
        if len(sides) == 1:
            require(setup.centre_mm, "setup.centre_mm")
        shown = enter_shown({setup.axis: sides}, setup.x_shows, setup, influences)
        plus, minus = shown.means.get("+"), shown.means.get("-")
        centre = None if len(sides) == 2 else carried_value(setup, influences, "centre", "spindle's centre")
        wide = across(setup.axis, setup.x_shows, plus, minus, centre)
        certified = influences.add(
            "certificate", ring.diameter_mm or 0.0, ring.u_diameter_mm, field="masters.ring.diameter_mm"
        )
        true = at_temperature(certified, *ring.climate(file.conditions).enter(influences, "ring"))
        ball = influences.estimate(true - wide if setup.side == "internal" else wide - true)
        quantities = [Quantity.of("ball_diameter_mm", "Effective ball", ball)]
        advice = []
        if plus is not None and minus is not None:
            middle = influences.estimate((plus + minus) / 2)
            quantities.append(Quantity.of("centre_mm", f"Centre, {as_shown(setup.axis, setup.x_shows)}", middle))
            advice.append(said("centre", centre=middle.value))
        uneven = len(sides) == 2 and len(sides["+"]) != len(sides["-"])
        flags = (
            *shown.flags, *(("unequal-sides",) if uneven else ()), *master_flags(ring, without=ring.U_diameter_mm == 0.0),
        )  # fmt: skip
        found = said("found", value=ball.value, U=ball.expanded, side=setup.side)
        return Evaluation(
            file.procedure, tuple(quantities), file.rule.rule(), found, said("sign"), (), flags, tuple(advice)
        )

    def slots(self, bench: Bench) -> tuple[Slot, ...]:
        """Both sides, three times each."""
        axis = bench.setup.word("axis", "x")
        return tuple(
            Slot(
                {"at": at},
                f"{at} {i + 1}/{TOUCHES}",
                f"Touch on the {at}{axis.upper()} side: {as_shown(axis, bench.setup.word('x_shows'))}",
                at,
                on=axis,
            )
            for at in ("+", "-")
            for i in range(TOUCHES)
        )

    def steps(self, bench: Bench) -> tuple[Step, ...]:
        """What the hands do."""
        where = "round the pin" if bench.setup.word("side") == "external" else "in the ring"
        return (
            Step("Wipe ring and stylus; the ring in the chuck, indicated true"),
            Step(f"Touch {where} on the + side", "+"),
            Step("On the - side", "-"),
            Step("Sign"),
        )

    def figure(
        self, bench: Bench, readings: list[dict[str, Any]], result: Evaluation | None, units: Units = Units.MM
    ) -> Figure:
        """The ball in the ring, or beside the pin."""
        size = bench.master("ring").number("diameter_mm") or 50.0
        ball = result.quantity("ball_diameter_mm").value if result else None
        inside = bench.setup.word("side", "internal") == "internal"
        return ring_figure(size, ball, inside, {str(r["at"]) for r in readings}, units)
