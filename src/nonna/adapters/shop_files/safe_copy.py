"""Copies of a whole shop, each proved by opening it; the way back from one; where a shop was opened last."""

from __future__ import annotations

import hashlib
import json
import re
import shutil
import socket
from collections.abc import Callable
from datetime import datetime
from pathlib import Path
from typing import Any

from nonna.adapters.files.safe_folder import clear_leftovers, is_taken, made_whole, why
from nonna.adapters.files.safe_write import write_text
from nonna.adapters.shop_files.shop_folder import ShopFolder
from nonna.adapters.store.sqlite.file import copy_file
from nonna.bench.ports import Copied
from nonna.errors import NonnaError
from nonna.shop.texts import strict_json

_PIECE = 1 << 20


def hashes(folder: Path) -> dict[str, str]:
    """Return the SHA-256 of every file in a folder, by its place in it. Raises: OSError."""
    files = sorted(
        path for path in folder.rglob("*") if path.is_file() and not path.is_symlink() and not _is_idle(path)
    )
    return {path.relative_to(folder).as_posix(): _hash(path) for path in files}


def prove(copy: Path, mark: str) -> None:
    """Hold a copy against its mark; one from before hashes were kept there is only looked into.

    Raises: NonnaError naming what is changed, missing, new or a link; OSError.
    """
    for path in copy.rglob("*"):
        if path.is_symlink():
            raise _refused("is a link: what it leads to is no part of the copy", path.relative_to(copy).as_posix())
    if not (copy / mark).is_file():
        return
    said = strict_json.loads((copy / mark).read_bytes())
    kept = said.get("files") if isinstance(said, dict) else None
    if kept is None:
        return
    there = {name: hash_ for name, hash_ in hashes(copy).items() if name != mark and not name.startswith(".")}
    for name in sorted({*kept, *there}):
        if name not in there:
            raise _refused("is missing", name)
        if name not in kept:
            raise _refused("was not in it when it was made", name)
        if there[name] != kept[name]:
            raise _refused("was changed since it was made", name)


def _is_idle(path: Path) -> bool:
    """Whether it is what a database leaves beside itself while it is only looked into."""
    return path.name.endswith("-shm") or (path.name.endswith("-wal") and path.stat().st_size == 0)


def _refused(what: str, file: str) -> NonnaError:
    words = "This copy is not what was copied: {file} {what}. Take another one."
    return NonnaError("unreadable", words, "copy", file=file, what=what)


def _hash(path: Path) -> str:
    found = hashlib.sha256()
    with path.open("rb") as file:
        while piece := file.read(_PIECE):
            found.update(piece)
    return found.hexdigest()


KEPT = 10  #: copies of a shop in one folder; older ones go
MARK, OPENED, LEDGER = "copy.json", ".opened", "ledger.sqlite"
_LEFT_OUT = re.compile(r"\.lock|\.opened|.*\.lock|ledger\.sqlite(-wal|-shm)?|copy\.json|\..*\.[0-9a-f]{12}")
_DATED = re.compile(r"-\d{8}-\d{6}$")


def copy_shop(shop: Path, target: Path, now: datetime, told: Callable[[int, int], None]) -> Copied:
    """Copy a shop into a dated folder in ``target``, prove the copy by opening it, and let copies before the last ten
    go.

    The shop may be in use: its book is copied as it stands at one moment. Parameters: told, is told how much of how
    much is done, and raises to stop. Raises: NonnaError ``unreadable`` (nothing is left of the copy then).
    """
    name = f"{_plain(shop.name)}-{now:%Y%m%d-%H%M%S}"
    try:
        if not target.is_dir():
            raise NonnaError(
                "unreadable",
                "{name} is not there. Is the stick out? Nothing was copied.",
                "target",
                name=target.name or str(target),
            )
        if target.resolve().is_relative_to(shop.resolve()):
            raise NonnaError(
                "unreadable", "A copy inside the shop would be lost with it: choose another folder.", "target"
            )
        clear_leftovers(target, now)
        with made_whole(target / name, like=shop) as beside:
            _files(shop, beside)
            if (shop / LEDGER).is_file():
                copy_file(shop / LEDGER, beside / LEDGER, told)
                shutil.copymode(shop / LEDGER, beside / LEDGER)
            found = look(beside)
            mark = {"shop": shop.name, "at": now.isoformat(timespec="seconds"), "computer": socket.gethostname()}
            files = hashes(beside)
            write_text(beside / MARK, json.dumps({**mark, "records": found.records, "files": files}) + "\n")
        _let_go(target, _plain(shop.name))
    except OSError as error:
        raise NonnaError("unreadable", "The shop was not copied: {words}.", "target", words=why(error)) from error
    return Copied(target / name, found.shop, found.records, found.last)


def look(copy: Path) -> Copied:
    """Open a copy (or a shop) whole and say what is in it. Raises: NonnaError naming what is damaged."""
    folder = ShopFolder(copy)
    shop = folder.shop()
    folder.shelf(), folder.gear(), folder.rules()
    for machine in shop.machines:
        folder.machine(machine), folder.tools(machine)
    last = ""
    records = 0
    if folder.book.exists:
        found = folder.book.verify()
        if not found.sound:
            raise NonnaError(
                "unreadable",
                "{name}: record {number} is damaged: {reason}.",
                "ledger",
                name=copy.name,
                number=found.first_damaged,
                reason=found.reason,
            )
        records = found.count
        last = next((entry.signed_at.isoformat(timespec="minutes") for entry in reversed(folder.book.entries())), "")
    return Copied(copy, shop.name, records, last)


def restore(copy: Path, target: Path) -> ShopFolder:
    """Make a shop of a copy, in a folder that is missing or empty; the copy stays. Raises: NonnaError."""
    look(copy)
    try:
        prove(copy, MARK)
        if is_taken(target):
            raise NonnaError(
                "unreadable",
                "{name} is not empty: nothing is written over. Choose a new folder.",
                "target",
                name=target.name,
            )
        target.parent.mkdir(parents=True, exist_ok=True)
        with made_whole(target, like=copy) as beside:
            shutil.copytree(copy, beside, dirs_exist_ok=True, ignore=shutil.ignore_patterns(MARK, OPENED))
            look(beside)
    except OSError as error:
        raise NonnaError("unreadable", "The copy was not restored: {words}.", "target", words=why(error)) from error
    return ShopFolder(target)


def opened_here(shop: Path, now: datetime) -> str:
    """Note that a shop is opened on this computer; return the other one it was opened on last, with the day, or ""."""
    own = socket.gethostname()
    before: Any
    try:
        before = strict_json.loads((shop / OPENED).read_bytes())
    except (OSError, NonnaError):
        before = {}
    try:
        write_text(shop / OPENED, json.dumps({"computer": own, "at": now.isoformat(timespec="seconds")}) + "\n")
    except NonnaError:
        return ""  # a shop that can only be read is opened by many
    if not isinstance(before, dict) or before.get("computer", own) == own:
        return ""
    return f"{str(before['computer'])[:60]}, {str(before.get('at', ''))[:10]}"


def _files(shop: Path, target: Path) -> None:
    def left_out(folder: str, names: list[str]) -> list[str]:
        own = Path(folder) == shop
        return [
            n
            for n in names
            if (_LEFT_OUT.fullmatch(n) and (own or not n.startswith("ledger"))) or (Path(folder) / n).is_symlink()
        ]

    shutil.copytree(shop, target, ignore=left_out, dirs_exist_ok=True)


def _let_go(target: Path, name: str) -> None:
    rows = sorted(
        p
        for p in target.glob(f"{name}-*")
        if _DATED.search(p.name) and p.name[: -len("-00000000-000000")] == name and (p / MARK).is_file()
    )
    for old in rows[:-KEPT]:
        shutil.rmtree(old)


def _plain(name: str) -> str:
    return re.sub(r"[^\w.-]+", "-", name, flags=re.ASCII).strip("-.") or "shop"
