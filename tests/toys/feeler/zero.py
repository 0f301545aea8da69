"""The toy's procedure: touch a block of known height, the mean less the height is the zero."""

from typing import Literal

from nonna.errors import TooFewReadingsError
from nonna.figures.figure import Figure, Line, box
from nonna.metrology.means import enter_means
from nonna.metrology.scatter import touch_scatter
from nonna.metrology.uncertain import Influences
from nonna.procedures.evaluation import Evaluation, Quantity
from nonna.procedures.inputs import ReadingsFile, Setup, asked
from nonna.procedures.sheet import Caution, Procedure, Slot, Step
from nonna.procedures.telling import saying
from nonna.procedures.tool_length import PositionReading
from nonna.shop.strict_model import Number
from nonna.wording.lengths import Units


class ZeroSetup(Setup):
    """What the block says."""

    height_mm: Number = asked("Height of the block")


class ZeroReadings(ReadingsFile):
    """A readings file of it."""

    procedure: Literal["feeler-zero"]
    setup: ZeroSetup
    readings: list[PositionReading]


said = saying("feeler-zero")


class FeelerZero(Procedure):
    """``zero = mean - height``."""

    name = "feeler-zero"
    sentences = {"found": "The feeler's zero stands at {z:length}.", "sign": "Sign it."}
    model = ZeroReadings
    main = ("zero_mm",)
    main_title = "Zero"
    offered = {"height_mm": 20.0, "resolution_mm": 0.001}
    caution = Caution("Keep fingers off the tip", "It is only a toy, but it pricks.")

    def _evaluate(self, file):
        positions = [r.position_mm for r in file.readings]
        if not positions:
            raise TooFewReadingsError("No touch was taken yet.")
        influences = Influences()
        touch = touch_scatter([positions], **file.setup.history())
        mean = enter_means({"all": positions}, touch, influences)["all"]
        zero = influences.estimate(mean - file.setup.height_mm)
        return Evaluation(
            file.procedure, (Quantity.of("zero_mm", "Zero", zero),), file.rule.rule(),
            said("found", z=zero.value), said("sign"),
        )  # fmt: skip

    def slots(self, bench):
        return tuple(Slot({}, f"Touch {i + 1}/3", "Touch the block", "touch") for i in range(3))

    def steps(self, bench):
        return (Step("Wipe the block"), Step("Touch three times", "touch"), Step("Sign"))

    def figure(self, bench, readings, result, units=Units.MM):
        marks = tuple(Line((-20, 20 + i), (20, 20 + i), "accent") for i in range(len(readings)))
        return Figure("The block under the feeler", (-30, 0, 30, 40), (box(-15, 0, 15, 20), *marks), "to scale")
