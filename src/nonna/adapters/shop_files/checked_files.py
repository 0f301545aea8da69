"""A shop's files, each checked whole against its model. Loading the models takes longer than a first look at a shop."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, TypeVar

from nonna.errors import NonnaError
from nonna.shop.cards.gear import Gear
from nonna.shop.cards.machine import Machine, Tools
from nonna.shop.cards.masters import Shelf, Shop
from nonna.shop.cards.rules import Rules
from nonna.shop.texts.given import Plain
from nonna.shop.texts.strict_model import checked

if TYPE_CHECKING:
    from pydantic import BaseModel

    M = TypeVar("M", bound=BaseModel)


class CheckedFiles:
    """Reads them by a folder's own means. Everything may raise NonnaError naming the file and the field."""

    def __init__(self, document: Callable[..., Plain], has: Callable[..., bool]) -> None:
        self._document, self._has = document, has

    def shop(self) -> Shop:
        """Return who and what the shop is."""
        return self._checked(Shop, "shop.json")

    def shelf(self) -> Shelf:
        """Return the masters."""
        return self._checked(Shelf, "masters.json")

    def gear(self) -> Gear:
        """Return indicators, setters and probes; a shop without the file has none."""
        return self._checked(Gear, "gear.json") if self._has("gear.json") else Gear()

    def rules(self) -> Rules:
        """Return what the shop decided for itself; a shop without the file decided nothing."""
        return self._checked(Rules, "rules.json") if self._has("rules.json") else Rules()

    def machine(self, name: str) -> Machine:
        """Return a machine by its file name."""
        return self._checked(Machine, "machines", f"{name}.json")

    def tools(self, machine: str) -> Tools:
        """Return a machine's tools."""
        return self._checked(Tools, "tools", f"{machine}.json")

    def _checked(self, model: type[M], *parts: str) -> M:
        try:
            return checked(model, self._document(*parts))
        except NonnaError as error:
            file = "/".join(parts)
            words = error.message if error.message.startswith(file) else f"{file}: {error.message}"
            raise NonnaError(error.code, words, error.where) from error
