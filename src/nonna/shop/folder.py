"""A shop's folder: which file is where, read quickly for a first look or checked whole."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING, Any, TypeVar

from nonna.metrology.errors import NonnaError
from nonna.shop import strict_json

if TYPE_CHECKING:
    from pydantic import BaseModel

    from nonna.shop.gear import Gear
    from nonna.shop.machine import Machine, Tools
    from nonna.shop.masters import Shelf, Shop

    M = TypeVar("M", bound=BaseModel)


@dataclass(frozen=True, slots=True)
class ShopFolder:
    """Paths and readers of one shop."""

    root: Path

    @property
    def ledger(self) -> Path:
        """The file of records."""
        return self.root / "ledger.sqlite"

    @property
    def has_files(self) -> bool:
        """Whether it is a shop with files of its own, not a ledger alone."""
        return (self.root / "shop.json").is_file()

    def marks(self, station: str) -> tuple[int, ...]:
        """Return when the files of a station were changed last, the ledger aside; anything else means a change."""
        own = (self.root / "machines" / f"{station}.json", self.root / "tools" / f"{station}.json")
        return _marks(*(self.root / name for name in ("shop.json", "masters.json", "gear.json")), *own)

    def document(self, *parts: str) -> Any:
        """Return a file's JSON unchecked, for a first look. Raises: NonnaError naming the file."""
        path = self.root.joinpath(*parts)
        try:
            return strict_json.loads(read_bytes(path))
        except NonnaError as error:
            raise NonnaError(error.code, f"{'/'.join(parts)}: {error.message}", error.where) from error

    def shop(self) -> Shop:
        """Return who and what the shop is. Raises: NonnaError."""
        from nonna.shop.masters import Shop

        return self._checked(Shop, "shop.json")

    def shelf(self) -> Shelf:
        """Return the masters. Raises: NonnaError."""
        from nonna.shop.masters import Shelf

        return self._checked(Shelf, "masters.json")

    def gear(self) -> Gear:
        """Return indicators, setters and probes; a shop without the file has none. Raises: NonnaError."""
        from nonna.shop.gear import Gear

        return self._checked(Gear, "gear.json") if (self.root / "gear.json").exists() else Gear()

    def machine(self, name: str) -> Machine:
        """Return a machine by its file name. Raises: NonnaError."""
        from nonna.shop.machine import Machine

        return self._checked(Machine, "machines", f"{name}.json")

    def tools(self, machine: str) -> Tools:
        """Return a machine's tools. Raises: NonnaError."""
        from nonna.shop.machine import Tools

        return self._checked(Tools, "tools", f"{machine}.json")

    def _checked(self, model: type[M], *parts: str) -> M:
        from nonna.shop.strict_model import checked

        try:
            return checked(model, self.document(*parts))
        except NonnaError as error:
            file = "/".join(parts)
            words = error.message if error.message.startswith(file) else f"{file}: {error.message}"
            raise NonnaError(error.code, words, error.where) from error


def ledger_marks(ledger: Path) -> tuple[int, ...]:
    """Return when a ledger was written to last; anything else means a change."""
    return _marks(ledger, ledger.with_name(f"{ledger.name}-wal"))


def _marks(*paths: Path) -> tuple[int, ...]:
    found: list[int] = []
    for path in paths:
        try:
            stat = path.stat()
            found += [stat.st_mtime_ns, stat.st_size, stat.st_ino]
        except (OSError, ValueError):
            found.append(0)
    return tuple(found)


def read_bytes(path: Path) -> bytes:
    """Return a file's bytes. Raises: NonnaError ``unreadable`` or ``too-large``, in words a person can use."""
    try:
        if path.is_file() and path.stat().st_size > strict_json.MAX_BYTES:
            raise NonnaError("too-large", f"{path.name} is over 50 MB; no file of ours is.")
        return path.read_bytes()
    except NonnaError:
        raise
    except FileNotFoundError:
        raise NonnaError("unreadable", f"There is no file {path.name!r} there.") from None
    except IsADirectoryError:
        raise NonnaError("unreadable", f"{path.name!r} is a folder, not a file.") from None
    except (OSError, ValueError) as error:
        words = error.strerror if isinstance(error, OSError) else "not a file name"
        raise NonnaError("unreadable", f"{path.name!r} cannot be read: {words}.") from error
