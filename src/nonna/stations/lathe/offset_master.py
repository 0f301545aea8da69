"""The reference tool from a master held in the chuck: touched on both sides of a half turn, so that its run-out cancels."""

from __future__ import annotations

import math
from typing import Any, ClassVar, Literal

from nonna.errors import TooFewReadingsError
from nonna.figures.figure import Figure
from nonna.figures.lathe import chuck_master_figure
from nonna.metrology.thermal import at_temperature
from nonna.metrology.uncertain import Influences, Uncertain
from nonna.procedures.evaluation import Evaluation, Quantity
from nonna.procedures.inputs import (
    Dof,
    Master,
    Masters,
    ReadingsFile,
    Setup,
    asked,
    carried_dof,
    carried_u,
    master_flags,
    require,
)
from nonna.procedures.sheet import Bench, Caution, Procedure, Slot, Step
from nonna.procedures.shown import XShows, as_shown, real_per_shown, x_shows
from nonna.procedures.telling import saying
from nonna.shop.strict_model import NotNegative, Number, Strict
from nonna.stations.lathe.axes import carried_value, enter_shown
from nonna.wording.lengths import Units

RUNOUT_MM = 0.02  #: of a master clamped with care, full swing, where nobody says
TURNS: tuple[Literal[0, 180], ...] = (0, 180)
said = saying("lathe-offset-master")
SENTENCES = {
    "found": "{axis} offset of the reference tool {value:length}, ± {U:small}.",
    "runs": "The master stands {value:small} off the axis; touched on both sides of a half turn it cancels.",
    "one-side": "Touched at one angle of the chuck alone: how far the master stands off the axis is in the offset and in its doubt. Turn the chuck by half a turn and touch again.",
    "sign": "Sign it; the arm is calibrated with this tool.",
}


class ChuckMasterSetup(Setup):
    """Setup of a reference tool touched on a master."""

    x_shows: XShows = x_shows()
    runout_mm: NotNegative | None = asked(
        "Run-out of the master",
        help="As it sits in the chuck, full swing: counts where one angle alone is touched.",
        default=None,
    )
    feeler_mm: NotNegative = asked(
        "Foil between", help="Its thickness; 0 where the tool touches the master itself.", default=0.0
    )
    feeler_u_mm: NotNegative = carried_u("Its standard uncertainty")
    feeler_dof: Dof | None = carried_dof()
    face_mm: Number | None = asked(
        "Where the master's face lies", help="In Z, as the machine counts; needed where Z is touched.", default=None
    )
    face_u_mm: NotNegative = carried_u("Its standard uncertainty")
    face_dof: Dof | None = carried_dof()


class ChuckMasterMasters(Masters):
    """The master in the chuck."""

    master: Master


class ChuckMasterTouch(Strict):
    """Machine position as the tool touches, and how the chuck stood."""

    axis: Literal["x", "z"]
    chuck_deg: Literal[0, 180]
    position_mm: Number


class ChuckMasterReadings(ReadingsFile):
    """Readings file of a reference tool touched on a master."""

    procedure: Literal["lathe-offset-master"]
    setup: ChuckMasterSetup
    masters: ChuckMasterMasters
    readings: list[ChuckMasterTouch]


class OffsetMaster(Procedure):
    """``offset_x = D(T) + 2 foil - mean`` (on radius half of that), mean of 0 and 180 degrees; ``offset_z = face + foil - mean``."""

    name = "lathe-offset-master"
    sentences = SENTENCES
    model = ChuckMasterReadings
    main = ("offset_x_mm", "offset_z_mm")
    main_title = "X offset"
    any_main = True
    role = "master"
    master_kinds = ("master-tool", "ring")
    offered: ClassVar[dict[str, Any]] = {"x_shows": "diameter", "resolution_mm": 0.001}
    caution = Caution(
        "Spindle stopped, drive off, before hands turn the chuck",
        "The master clamped lightly and wiped. Come near with the smallest step, foil between, doors shut whenever an axis "
        "moves by more than that.",
    )

    def _evaluate(self, file: ChuckMasterReadings) -> Evaluation:
        setup, master = file.setup, file.masters.master
        touched = {
            axis: {
                f"{axis} at {turn}": values
                for turn in TURNS
                if (values := [r.position_mm for r in file.readings if (r.axis, r.chuck_deg) == (axis, turn)])
            }
            for axis in ("x", "z")
        }
        touched = {axis: groups for axis, groups in touched.items() if groups}
        if not touched:
            raise TooFewReadingsError("Nothing was touched yet.")
        influences = Influences()
        shown = enter_shown(touched, setup.x_shows, setup, influences)
        foil = setup.enter(influences, "feeler", "foil between")
        quantities: list[Quantity] = []
        told = []
        for axis, groups in touched.items():
            factor = real_per_shown(axis, setup.x_shows)
            mean: Uncertain = sum(shown.means[name] for name in groups) / len(groups)
            if axis == "x":
                require(master.diameter_mm, "masters.master.diameter_mm", positive=True)
                certified = influences.add(
                    "certificate", master.diameter_mm or 0.0, master.u_diameter_mm, field="masters.master.diameter_mm"
                )
                wide = at_temperature(certified, *master.climate(file.conditions).enter(influences, "master"))
                offset = (wide / 2.0 + foil) / factor - mean
            else:
                offset = carried_value(setup, influences, "face", "master's face") + foil - mean
            title = as_shown(axis, setup.x_shows)
            if len(groups) == 1:
                runs = (RUNOUT_MM if setup.runout_mm is None else setup.runout_mm) / 2.0
                off = influences.add(
                    f"master off the axis, {axis} at one angle", 0.0, runs / math.sqrt(2.0), shape="rectangular"
                )
                offset = offset + off / factor
            estimate = influences.estimate(offset)
            quantities.append(Quantity.of(f"offset_{axis}_mm", f"{title} offset", estimate))
            told.append(said("found", axis=title, value=estimate.value, U=estimate.expanded))
            if axis == "x" and len(groups) == 2:
                first, second = (sum(values) / len(values) for values in groups.values())
                told.append(said("runs", value=abs(first - second) / 2.0 * factor))
        one = any(len(groups) == 1 for groups in touched.values())
        flags = (
            *shown.flags, *(("one-side",) if one else ()),
            *(master_flags(master, without=master.U_diameter_mm == 0.0) if "x" in touched else ()),
        )  # fmt: skip
        advice = (*told[1:], *((said("one-side"),) if one else ()))
        return Evaluation(file.procedure, tuple(quantities), file.rule.rule(), told[0], said("sign"), (), flags, advice)

    def slots(self, bench: Bench) -> tuple[Slot, ...]:
        """Both axes, each at two angles of the chuck, twice."""
        shows = bench.setup.word("x_shows", "diameter")
        return tuple(
            Slot(
                {"axis": axis, "chuck_deg": turn}, f"{axis.upper()} {turn}° {i + 1}/2",
                f"Master's {words}, chuck at {turn}°: {as_shown(axis, shows)}", axis,
            )
            for axis, words in (("x", "diameter"), ("z", "face"))
            for turn in TURNS
            for i in range(2)
        )  # fmt: skip

    def steps(self, bench: Bench) -> tuple[Step, ...]:
        """What the hands do."""
        del bench
        return (
            Step("Clamp the master lightly, wipe it and the tip"),
            Step("Touch its diameter, twice; half a turn of the chuck by hand, twice again", "x"),
            Step("Its face likewise; where that lies was indicated before (F9)", "z"),
            Step("Sign"),
        )

    def figure(
        self, bench: Bench, readings: list[dict[str, Any]], result: Evaluation | None, units: Units = Units.MM
    ) -> Figure:
        """The master in the chuck, the tip at its side."""
        size = bench.master("master").number("diameter_mm") or 20.0
        found = {q.title: q.value for q in result.quantities} if result else {}
        return chuck_master_figure(size, {str(r["axis"]) for r in readings}, found, units)
