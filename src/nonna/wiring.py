"""Where the world outside is plugged in: the one place that knows which adapter fills which port.

Desk and command line ask here. What is slow to load is loaded when it is asked for.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from nonna.adapters.files import reading, safe_write, user_folders
from nonna.adapters.shop_files.shop_folder import ShopFolder
from nonna.bench import clock
from nonna.bench.ports import Copied, Journal, ShopFiles
from nonna.errors import NonnaError
from nonna.shop.texts.given import Plain

if TYPE_CHECKING:
    from queue import SimpleQueue
    from typing import Any

    from nonna.adapters.instrument_port import Port
    from nonna.bench.tables.labels import ToolLabel
    from nonna.programs.language.dialect import Dialect
    from nonna.shop.cards.connection import Connection
    from nonna.shop.cards.control_tables import ControlTablesFile
    from nonna.shop.cards.machine import Machine
    from nonna.shop.links.judge import NextJob
    from nonna.shop.records.values import Record
    from nonna.shop.texts.line_pattern import LinePattern
    from nonna.stations.tool_program import Standin
    from nonna.wording.lengths import Units


def shop_files(root: Path) -> ShopFiles:
    """Return the files and the book of a shop's folder; nothing is read yet."""
    return ShopFolder(root)


def demo_shop(root: Path) -> ShopFiles:
    """Make a copy of the demo shop in an empty folder. Raises: FileExistsError."""
    from nonna.adapters.shop_files.practice import make

    return make(root)


def lay_demo_shop(root: Path) -> ShopFiles:
    """Make a copy of the demo shop in a missing or empty folder, whole or not at all. Raises: NonnaError."""
    from nonna.adapters.shop_files.practice import lay

    return lay(root)


def new_shop(root: Path, documents: Mapping[tuple[str, ...], Mapping[str, Plain]]) -> ShopFiles:
    """Write a new shop's files into a missing or empty folder, whole or not at all. Raises: NonnaError."""
    from nonna.adapters.shop_files.founding import write_shop

    return write_shop(root, documents)


def serve_control(
    machine: Machine, dialect: Dialect, begin: Callable[[int], Standin], folder: Path, first: ControlTablesFile,
    **more: Any,
) -> None:  # fmt: skip
    """Be a stand-in control until somebody switches it off. Raises: NonnaError (a file, a port, no such fault)."""
    from nonna.adapters.standin_control.process import ControlOrder, ControlProcess

    ControlProcess(ControlOrder(machine, dialect, begin, folder, first, **more)).serve()


def unprintable(words: str) -> tuple[str, ...]:
    """Return the letters of some words that no typeface of a certificate has."""
    from nonna.adapters.papers import pdf_letters

    return pdf_letters.unprintable(words)


def usual_shop() -> Path:
    """Return the shop folder used when none is named."""
    return user_folders.default_shop()


def settings_file() -> Path:
    """Return the file that remembers window and units."""
    return user_folders.settings_file()


def journal() -> Journal:
    """Return what writes this run's log."""
    from nonna.adapters.files import journal as real

    return real.Journal(user_folders.state_folder())


def read_bytes(path: Path) -> bytes:
    """Return a file's bytes. Raises: NonnaError in words a person can use."""
    return reading.read_bytes(path)


def must_be_there(folder: str) -> None:
    """Raises: NonnaError (a folder that was chosen once is gone; "" is none that was)."""
    if folder and not Path(folder).is_dir():
        words = "{folder} is not there. Is the stick out? Nothing was written."
        raise NonnaError("unreadable", words, "programs", folder=folder)


def printed_at(place: Path) -> str:
    """Return what machines printed in a file or a folder of files. Raises: NonnaError."""
    from nonna.adapters.files import printed_lines

    return printed_lines.printed_at(place)


def write_bytes(path: Path, data: bytes) -> None:
    """Write a file whole or not at all. Raises: NonnaError."""
    safe_write.write_bytes(path, data)


def write_text(path: Path, text: str) -> None:
    """Write a file whole or not at all. Raises: NonnaError."""
    safe_write.write_text(path, text)


def write_certificate(record: Record, path: Path, withdrawn_by: int | None) -> None:
    """Write a certificate as PDF, or as XML where the file's ending says so. Raises: NonnaError."""
    if path.suffix.lower() == ".xml":
        from nonna.adapters.papers import certificate_xml

        certificate_xml.write(record, path, withdrawn_by)
        return
    from nonna.adapters.papers import certificate_pdf

    certificate_pdf.write(record, path, withdrawn_by)


def write_bench_list(
    path: Path, where: str, jobs: Sequence[NextJob], named: Mapping[str, str], kept: Mapping[str, str]
) -> None:
    """Write the next jobs on a sheet of paper. Raises: NonnaError."""
    from nonna.adapters.papers import bench_list

    bench_list.write(path, where, jobs, named, kept)


def write_labels(path: Path, labels: Sequence[ToolLabel], where: str, units: Units) -> None:
    """Write labels for tools as PDF. Raises: NonnaError."""
    from nonna.adapters.papers import labels_pdf

    labels_pdf.write(path, labels, where, units)


def instrument_port(line: Connection, pattern: LinePattern | None, box: SimpleQueue[tuple[str, object]]) -> Port:
    """Return what reads an instrument's lines into a box; nothing is opened before it runs."""
    from nonna.adapters import instrument_port as real

    return real.Port(line, pattern, box)


def copy_shop(shop: Path, target: Path, told: Callable[[int, int], None]) -> Copied:
    """Copy a shop into a dated folder, proved by opening it; ``told`` may raise to stop. Raises: NonnaError."""
    from nonna.adapters.shop_files import safe_copy

    return safe_copy.copy_shop(shop, target, clock.now(), told)


def look_at_copy(copy: Path) -> Copied:
    """Open a copy whole and say what is in it. Raises: NonnaError."""
    from nonna.adapters.shop_files import safe_copy

    return safe_copy.look(copy)


def restore_shop(copy: Path, target: Path) -> ShopFiles:
    """Make a shop of a copy, in a new folder. Raises: NonnaError."""
    from nonna.adapters.shop_files import safe_copy

    return safe_copy.restore(copy, target)


def opened_here(shop: Path) -> str:
    """Note that a shop is opened here; return the other computer it was opened on last, "" for none."""
    from nonna.adapters.shop_files import safe_copy

    return safe_copy.opened_here(shop, clock.now())


def lay_out_templates(shop: ShopFiles) -> None:
    """Put a copy of our program templates into a shop's folder, to be changed there. Raises: NonnaError."""
    from nonna.adapters.shop_files.templates import lay_out

    lay_out(shop.root / "templates")
