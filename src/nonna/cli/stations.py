"""``nonna prepare`` and ``nonna loop``: a sheet's start and a station's state, without the desk."""

from __future__ import annotations

import argparse
import json

from nonna import wiring
from nonna.bench.ports import ShopFiles
from nonna.bench.sheet.opening import prepared
from nonna.bench.station.loop_document import to_document
from nonna.bench.station.site import open_site
from nonna.bench.station.state import state_of
from nonna.cli.warning import warn
from nonna.errors import NonnaError
from nonna.procedures.catalogue import procedure
from nonna.procedures.listing import PROCEDURES
from nonna.shop.links.subjects import Subject
from nonna.shop.texts.given import Plain


def prepare(given: argparse.Namespace) -> int:
    """Print the readings file as a sheet would start it, with what is missing to carry. Raises: NonnaError."""
    found = procedure(given.procedure)
    site = open_site(_folder(given), given.station)
    made = prepared(site, found.name, Subject.of(given.subject) if given.subject else PROCEDURES[found.name].subject)
    document: dict[str, Plain] = made.facts.document(found.name, [])
    for change in made.outside:
        warn(f"changed outside, and not signed: {change.words}.")
    print(json.dumps(document | {"missing": [row.to_document() for row in made.missing]}, ensure_ascii=True))
    return 0


def loop(given: argparse.Namespace) -> int:
    """Print the loop of a station. Raises: NonnaError."""
    print(json.dumps(to_document(state_of(open_site(_folder(given), given.station))), ensure_ascii=True))
    return 0


def _folder(given: argparse.Namespace) -> ShopFiles:
    folder = wiring.shop_files(given.shop)
    if not folder.has_files and not folder.book.exists:
        raise NonnaError(
            "unreadable", "There is no shop in {name!r}: neither files nor a ledger.", "shop", name=folder.root.name
        )
    return folder
