"""What a readings file may hold: the models that check it, describe it (JSON Schema) and make the form."""

from __future__ import annotations

import math
from typing import Annotated, Any, ClassVar, Literal, TypeVar

from pydantic import Field

from nonna.errors import NonnaError
from nonna.metrology.doubt.coverage import LEAST_DOF
from nonna.metrology.doubt.decision import RISK, Rule, RuleKind
from nonna.metrology.doubt.uncertain import Influences, Uncertain
from nonna.metrology.drifting.thermal import Climate
from nonna.shop.texts.given import Plain
from nonna.shop.texts.strict_model import LARGEST, NotNegative, Number, Positive, Strict, checked

FORMAT = "nonna-readings/1"


def asked(title: str, unit: str = "mm", help: str = "", default: object = ..., **more: Any) -> Any:
    """Declare a field that a sheet asks for: its label, unit and what it is good for."""
    extra = {"unit": unit, **more}
    return Field(default, title=title, description=help or title, json_schema_extra=extra)


def carried_u(title: str, unit: str = "mm", help: str = "") -> Any:
    """Declare the standard uncertainty of a field; `carried_dof` of the same value stands beside it."""
    return asked(title, unit, help, 0.0)


Dof = Annotated[float, Field(ge=LEAST_DOF, le=LARGEST, allow_inf_nan=False)]


def carried_dof() -> Any:
    """Declare the degrees of freedom of a carried value; absent or null: infinitely many."""
    return Field(
        None, title="Its degrees of freedom", description="From the record it comes from; none: infinitely many."
    )


COLDEST_C, HOTTEST_C = -50.0, 150.0


class Conditions(Strict):
    """Where and when the readings were taken."""

    temperature_c: Annotated[float, Field(ge=COLDEST_C, le=HOTTEST_C, allow_inf_nan=False)] = 20.0
    temperature_u_c: NotNegative = 0.0
    temperature_assumed: bool = False  #: nobody read it on the day


class RuleInput(Strict):
    """The decision rule to judge by."""

    kind: RuleKind = "guarded"
    risk: Annotated[float, Field(ge=RISK, le=RISK)] | None = RISK

    def rule(self) -> Rule:
        """Return the rule as the decisions take it."""
        return Rule(self.kind)


class Master(Strict):
    """What a master's certificate says; only what the procedure needs must be there."""

    length_mm: Number | None = None
    U_length_mm: NotNegative = 0.0
    diameter_mm: NotNegative | None = None
    U_diameter_mm: NotNegative = 0.0
    k: Positive | None = None  #: of the certificate; needed with any U
    cte_per_k: Number = 0.0
    cte_u_per_k: NotNegative = 0.0
    traceable: bool = True

    @property
    def u_length_mm(self) -> float:
        """Standard uncertainty of the length."""
        return self.U_length_mm / (self.k or 1.0)

    @property
    def u_diameter_mm(self) -> float:
        """Standard uncertainty of the diameter."""
        return self.U_diameter_mm / (self.k or 1.0)

    def climate(self, conditions: Conditions) -> Climate:
        """Return temperature and expansion of this master."""
        return Climate(conditions.temperature_c, conditions.temperature_u_c, self.cte_per_k, self.cte_u_per_k)


class Masters(Strict):
    """No masters; procedures that need some say which."""


class Setup(Strict):
    """What any setup may hold."""

    repeatability_mm: Positive | None = asked(
        "Known repeatability",
        help="Standard deviation of one touch, from a repeatability check.",
        default=None,
    )
    repeatability_dof: Annotated[float, Field(ge=1.0, le=LARGEST, allow_inf_nan=False)] | None = Field(
        None, title="Its degrees of freedom"
    )
    resolution_mm: NotNegative = asked("Resolution", help="Smallest step the position is shown in.", default=0.0)

    def history(self) -> dict[str, float]:
        """Return the arguments that `touch_scatter` takes from a setup."""
        return {
            "history": self.repeatability_mm or 0.0,
            "history_dof": self.repeatability_dof or float("inf"),
            "resolution": self.resolution_mm,
        }

    def enter(self, influences: Influences, name: str, source: str, value: float | None = None) -> Uncertain:
        """Enter a value that this setup was given, with its uncertainty and the freedom of that.

        Parameters: name without its unit, such as ``trigger_plane``; source, what a budget calls it; value, where
        it is not the field's own (mm).
        """
        given = getattr(self, f"{name}_mm") if value is None else value
        dof = getattr(self, f"{name}_dof")
        return influences.add(
            source, given or 0.0, getattr(self, f"{name}_u_mm"), math.inf if dof is None else dof,
            field=f"setup.{name}{'_mm' if hasattr(self, f'{name}_mm') else '_u_mm'}",
        )  # fmt: skip


class Missing(Strict):
    """Something that could not be carried when the file was prepared."""

    field: str
    from_: str = Field(alias="from")
    why: str


class ReadingsFile(Strict):
    """One readings file; each procedure narrows procedure, setup, masters and readings."""

    format: Literal["nonna-readings/1"]
    procedure: str
    conditions: Conditions = Conditions()
    masters: Masters = Masters()
    setup: Setup
    rule: RuleInput = RuleInput()
    tool: int | None = Field(None, ge=0, le=1_000_000)  #: of what came from a run of a program; a note, 0 for none
    missing: list[Missing] = []  #: what `nonna prepare` could not carry; a note to whoever fills the file
    readings: list[Any]

    value_fields: ClassVar[tuple[str, ...]] = ("position_mm",)  #: what is typed when a reading is taken


class Indicator(Strict):
    """A dial or lever indicator."""

    resolution_mm: NotNegative = asked("Resolution of the dial", help="Smallest step the dial shows.", default=0.0)
    mpe_mm: NotNegative = asked(
        "Its maximum permissible error", help="From its certificate or data sheet.", default=0.0
    )
    lever_deg: Annotated[float, Field(gt=-90.0, lt=90.0, allow_inf_nan=False)] = asked(
        "Lever angle", "°", "Between the lever and the surface; 0 for a plunger or a lever that lies flat.", 0.0
    )

    @property
    def cosine(self) -> float:
        """What turns the dial's reading into movement of the surface (lever geometry)."""
        return math.cos(math.radians(self.lever_deg))


class IndicatorSetup(Setup):
    """What any setup with an indicator may hold."""

    indicator: Indicator = Indicator()

    def history(self) -> dict[str, float]:
        """As of any setup; the dial's resolution counts along the surface."""
        resolution = self.indicator.resolution_mm or self.resolution_mm
        return super().history() | {"resolution": resolution * self.indicator.cosine}


F = TypeVar("F", bound=ReadingsFile)


def validated(model: type[F], document: dict[str, Plain]) -> F:
    """Check a readings document against a procedure's model. Raises: NonnaError, as `checked`."""
    file = checked(model, {"masters": {}, "setup": {}, **document})
    for role in type(file.masters).model_fields:
        master = getattr(file.masters, role)
        stated = master is not None and {"U_length_mm", "U_diameter_mm"} & master.model_fields_set
        if stated and master.k is None:
            where = f"masters.{role}.k"
            raise NonnaError(
                "missing-field", "{place}: a U says nothing without the k of its certificate.", where, place=where
            )
    return file


def master_flags(master: Master, *, absolute: bool = True, without: bool = False) -> tuple[str, ...]:
    """Return what has to be said of a master: exact by choice, not traceable, or without an uncertainty."""
    if not absolute:
        return ("self-consistent",)
    return (*(() if master.traceable else ("not-traceable",)), *(("master-without-uncertainty",) if without else ()))


def require(value: float | None, where: str, *, positive: bool = False) -> float:
    """Return a number that this file cannot do without.

    Raises: NonnaError ``missing-field``, ``out-of-range`` (not above 0 where it must be).
    """
    if value is None:
        raise NonnaError("missing-field", "{place}: this is missing.", where, place=where)
    if positive and value <= 0.0:
        raise NonnaError(
            "out-of-range", "{place}: this must be above 0, not {value:g}.", where, place=where, value=value
        )
    return value
