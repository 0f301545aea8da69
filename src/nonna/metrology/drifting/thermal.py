"""A master's value at the temperature it is used at."""

from __future__ import annotations

from dataclasses import dataclass

from nonna.metrology.doubt.uncertain import Influences, Uncertain

REFERENCE_C = 20.0  # ISO 1


@dataclass(frozen=True, slots=True)
class Climate:
    """Temperature of a master and its expansion, shared by every length of that master."""

    temperature_c: float = REFERENCE_C
    temperature_u_c: float = 0.0
    cte_per_k: float = 0.0
    cte_u_per_k: float = 0.0

    def enter(self, influences: Influences, role: str = "master") -> tuple[Uncertain, Uncertain]:
        """Enter temperature and expansion as influences, once for all lengths of the master in that role."""
        return self.enter_temperature(influences), self.enter_expansion(influences, role)

    def enter_temperature(self, influences: Influences) -> Uncertain:
        """Enter the temperature: one influence, however many masters share it."""
        return influences.add("temperature", self.temperature_c, self.temperature_u_c, field="conditions.temperature_c")

    def enter_expansion(self, influences: Influences, role: str) -> Uncertain:
        """Enter the expansion of the master in a role."""
        return influences.add(
            "expansion of the master", self.cte_per_k, self.cte_u_per_k, field=f"masters.{role}.cte_per_k"
        )

    def factor(self) -> float:
        """Return 1 + alpha (T - 20), the exact stretch used where the master counts as exact."""
        return 1.0 + self.cte_per_k * (self.temperature_c - REFERENCE_C)


def at_temperature(length_20: Uncertain, temperature: Uncertain, cte: Uncertain) -> Uncertain:
    """Return L20 (1 + alpha (T - 20)), mm, with the influences of all three."""
    return length_20 * (1.0 + cte * (temperature - REFERENCE_C))
