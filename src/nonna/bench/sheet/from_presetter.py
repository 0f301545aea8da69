"""What a machine takes from the records of the shop's presetter: its calibration and the transfer to that machine."""

from __future__ import annotations

from collections.abc import Mapping

from nonna.bench.book.results_that_hold import Held, Lacking, Nothing
from nonna.bench.station.site import Site
from nonna.errors import NonnaError
from nonna.procedures import offers
from nonna.procedures.listing import one_offering
from nonna.procedures.sheet import Procedure
from nonna.shop.cards.gear import PresetterCard
from nonna.shop.records.values import CarriedFrom
from nonna.shop.texts.given import Plain

NO_PRESETTER = Nothing("There is no presetter in this shop.")


def presetter_of(site: Site) -> Site | None:
    """Return the station of the shop's presetter, None where there is none. Raises: NonnaError (a file is damaged)."""
    card = card_of_presetter(site)
    if card is None:
        return None
    try:
        return Site.load(site.folder, card.machine)
    except NonnaError as error:
        if error.where == "station":
            return None  # a card of a station that is not in the shop
        raise


def card_of_presetter(site: Site) -> PresetterCard | None:
    """Return the card of the shop's presetter, None where there is none."""
    cards = (card for card in site.gear.presetters if not card.retired and card.machine)
    return next((card for card in cards if card.machine != site.machine.name), None)


def rests_on_presetter(found: Procedure) -> bool:
    """Say whether a procedure is carried out on the shop's presetter for another station."""
    return any(need.away for need in found.needs)


def of_transfer(held: Held, part: str) -> float | None:
    """Return a part of a transfer's record, None where it does not say.

    Parts: the standard doubt of one more tool, its line's pivot or slope, of how many readings its lengths are means.
    """
    if part == "means-of":
        found = held.record.setup.number("presetter_means_of")
        return None if found is None else int(found)
    rows = held.record.result.results
    if part == "one-more":
        k = rows["transfer_mm"].k
        return None if k is None else rows["corrected_U_mm"].value / k
    row = rows.get("pivot_mm" if part == "pivot" else "trend_ppm") if "pivot_mm" in rows else None
    return None if row is None else float(row.value)


def transfer_in_time(setup: dict[str, Plain], carried: Mapping[str, CarriedFrom]) -> list[Lacking]:
    """Say that a transfer does not count where the presetter was calibrated after it; note whether the setter was.

    A transfer holds the presetter's zero as it was then. The setter's plane is another one after a calibration: that
    only adds doubt.
    """
    transfer, zero, plane = (carried.get(f"setup.{name}_mm") for name in ("transfer", "z_offset", "trigger_plane"))
    if transfer is None:
        return []
    setup["setter_recalibrated"] = plane is not None and plane.record > transfer.record
    if zero is not None and zero.record > transfer.record:
        why = (
            "The presetter was calibrated after its transfer to this machine was measured: measure the transfer again."
        )
        return [Lacking("transfer_mm", one_offering(offers.TRANSFER), why, True)]
    return []
