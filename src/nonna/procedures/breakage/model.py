"""Breakage: what its readings file holds."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from nonna.metrology.doubt.scatter import Pooled
from nonna.procedures.inputs import Dof, ReadingsFile, asked, carried_dof, carried_u
from nonna.procedures.turning import TurningSetup
from nonna.shop.texts.strict_model import NotNegative, Number, Strict


class BreakageSetup(TurningSetup):
    """Setup of a breakage check."""

    reference_mm: Number = asked("Length when it was good", help="From its newest measured length.")
    reference_u_mm: NotNegative = carried_u("Its standard uncertainty")
    reference_dof: Dof | None = carried_dof()
    tolerance_short_mm: NotNegative = asked("Shorter by more: broken", limit=True)
    tolerance_long_mm: NotNegative = asked("Longer by more: pulled out", limit=True)
    wear_mm: NotNegative = asked("Shorter by more: worn", help="0: wear is not watched.", default=0.0)
    trigger_plane_mm: Number = asked("Trigger plane", help="From the setter calibration.")
    trigger_plane_u_mm: NotNegative = carried_u("Plane's standard uncertainty")
    trigger_plane_dof: Dof | None = carried_dof()
    same_plane: bool = asked(
        "Reference from this plane", "", "Whether the reference was measured on this very plane: its doubt cancels in "
        "the change, and reference_u_mm is the reference's without it.", False,
    )  # fmt: skip
    reference_touches: int | None = Field(
        None, ge=2, le=1000, title="Touches it is the mean of",
        description="Where the reference's doubt (same_plane) is the scatter of so many touches and nothing else: "
        "pooled with the touches of the check, for it is the same tool on the same setter.",
    )  # fmt: skip

    def pooled_with(self, here: Pooled) -> Pooled | None:
        """Return the scatter of one touch from the check's touches and the reference's; None where they do not pool."""
        alike = self.same_plane and self.reference_touches and self.reference_dof == self.reference_touches - 1
        if not alike or self.repeatability_mm or self.reference_touches is None or self.reference_u_mm == 0.0:
            return None
        dof = self.reference_touches - 1
        then = self.reference_u_mm**2 * self.reference_touches
        return Pooled((here.dof * here.variance + dof * then) / (here.dof + dof), here.dof + dof)


class BreakReading(Strict):
    """Where it triggered, or how low it went without a trigger."""

    position_mm: Number | None = None
    no_trigger: bool = False
    lowest_mm: Number | None = None


class BreakageReadings(ReadingsFile):
    """Readings file of a breakage check."""

    procedure: Literal["breakage"]
    setup: BreakageSetup
    readings: list[BreakReading]
