"""Whether a program of ours has run on a machine as its card stands: until then each one comes with a dry run."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping

from nonna.bench.named_files import named_file
from nonna.bench.ports import ShopFiles
from nonna.shop.cards.machine import Machine
from nonna.shop.texts.given import Plain

RAN = "programs-run.json"


def note_run(folder: ShopFiles, machine: Machine) -> None:
    """Keep that results of a program came back from a machine. Raises: NonnaError (the file cannot be read or
    written).
    """

    def noted(document: Mapping[str, Plain]) -> dict[str, Plain]:
        return {**document, machine.name: _card(machine)}

    folder.change((RAN,), noted, {})


def has_run(folder: ShopFiles, machine: Machine) -> bool:
    """Say whether one ran on it, its card being as it is now. Raises: NonnaError naming the file."""
    return named_file(folder, RAN).get(machine.name) == _card(machine)


def _card(machine: Machine) -> str:
    return hashlib.sha256(machine.model_dump_json().encode("utf-8")).hexdigest()
