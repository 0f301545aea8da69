"""A shop's own program templates, read from their folder."""

from __future__ import annotations

import shutil
from collections.abc import Mapping
from pathlib import Path

from nonna.adapters.files.reading import read_bytes
from nonna.errors import NonnaError
from nonna.programs.writing.rendering import RefusedError
from nonna.programs.writing.writer import WHOLE, TemplateFaultError, template_files

MOST_FILES, LONGEST_FILE = 30, 200_000


def read_templates(folder: Path) -> Mapping[str, str] | None:
    """Return the templates of a folder by name, None where the main one is missing; links that lead out of it are none.

    Raises: TemplateFaultError, NonnaError (one cannot be read).
    """
    if not (folder / WHOLE).exists():
        return None
    home = folder.resolve()
    found = {}
    for path in sorted(folder.glob("*.j2"))[:MOST_FILES]:
        if path.resolve().parent != home:
            raise TemplateFaultError(RefusedError(path.name, 0, "it leads out of the folder of templates"))
        data = read_bytes(path)
        if len(data) > LONGEST_FILE:
            raise TemplateFaultError(RefusedError(path.name, 0, "it is longer than any template needs to be"))
        try:
            found[path.name] = data.decode()
        except UnicodeDecodeError as error:
            raise TemplateFaultError(RefusedError(path.name, 0, "it is not UTF-8 text")) from error
    return found


def lay_out(folder: Path) -> None:
    """Put a copy of our templates into a folder, to be changed there. Raises: NonnaError."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
        for name, path in template_files().items():
            shutil.copyfile(path, folder / name)
    except OSError as error:
        raise NonnaError(
            "unreadable", "The templates were not copied: {value}.", "shop", value=error.strerror or error
        ) from error
