"""Everything of it: what the hands do, its drawing, and everything together."""

from __future__ import annotations

from typing import Literal

from nonna.stations.feeler.procedures.zero import LISTED

from nonna.errors import TooFewReadingsError
from nonna.figures.figure import Figure, Line, box
from nonna.metrology.doubt.means import enter_means
from nonna.metrology.doubt.scatter import touch_scatter
from nonna.metrology.doubt.uncertain import Influences
from nonna.procedures import offers
from nonna.procedures.evaluation import Evaluation, Quantity
from nonna.procedures.facts import Caution, Slot, Step
from nonna.procedures.inputs import ReadingsFile, Setup, asked
from nonna.procedures.sheet import Need, Procedure
from nonna.procedures.telling import saying
from nonna.procedures.tool_length.model import PositionReading
from nonna.shop.texts.strict_model import Number
from nonna.wording.lengths import Units

said = saying("feeler-zero")


class ZeroSetup(Setup):
    """What the block says."""

    height_mm: Number = asked("Height of the block")


class ZeroReadings(ReadingsFile):
    """A readings file of it."""

    procedure: Literal["feeler-zero"]
    setup: ZeroSetup
    readings: list[PositionReading]


def evaluate(file):
    """``zero = mean - height``."""
    positions = [r.position_mm for r in file.readings]
    if not positions:
        raise TooFewReadingsError("No touch was taken yet.")
    influences = Influences()
    touch = touch_scatter([positions], **file.setup.history())
    mean = enter_means({"all": positions}, touch, influences)["all"]
    zero = influences.estimate(mean - file.setup.height_mm)
    return Evaluation(
        file.procedure,
        (Quantity.of("zero_mm", "Zero", zero),),
        file.rule.rule(),
        said("found", z=zero.value),
        said("sign"),
    )


def figure(facts, readings, result, units=Units.MM):
    marks = tuple(Line((-20, 20 + i), (20, 20 + i), "accent") for i in range(len(readings)))
    return Figure("The block under the feeler", (-30, 0, 30, 40), (box(-15, 0, 15, 20), *marks), "to scale")


SENTENCES = {"found": "The feeler's zero stands at {z:length}.", "sign": "Sign it."}


PROCEDURE = Procedure(
    listed=LISTED,
    model=ZeroReadings,
    evaluation=evaluate,
    slots=lambda facts: tuple(Slot({}, f"Touch {i + 1}/3", "Touch the block", "touch") for i in range(3)),
    steps=lambda facts: (Step("Wipe the block"), Step("Touch three times", "touch"), Step("Sign")),
    figure=figure,
    main=("zero_mm",),
    main_title="Zero",
    taken={"": "block-felt"},
    needs=(
        Need("repeatability_mm", offers.TOUCH_SCATTER, "value", "check", same_subject=True, needed=False),
        Need("repeatability_dof", offers.TOUCH_SCATTER, "readings-1", "check", same_subject=True, needed=False),
    ),
    offered={"height_mm": 20.0, "resolution_mm": 0.001},
    caution=Caution("Keep fingers off the tip", "It is only a toy, but it pricks."),
)
