"""Put a launcher, an icon and a desktop entry where this user's desktop finds them."""

from __future__ import annotations

import os
import sys
from collections.abc import Sequence
from importlib import resources
from pathlib import Path

from nonna import wiring

ENTRY = """[Desktop Entry]
Type=Application
Name=Nonna
Comment=Calibrate probes, setters and tools; keep records that hold up
Exec={launcher}
Icon=nonna
Terminal=false
Categories=Science;Engineering;
StartupWMClass=Nonna
"""


def install(home: Path, program: Path) -> tuple[Path, ...]:
    """Write the three files below a home folder and return them.

    Raises: OSError (a folder cannot be written), FileNotFoundError (the program is not installed).
    """
    if not program.is_file():
        raise FileNotFoundError(f"{program.name} is not installed beside this Python; run make first")
    share = home / ".local" / "share"
    launcher = home / ".local" / "bin" / "nonna"
    icon = share / "icons" / "hicolor" / "scalable" / "apps" / "nonna.svg"
    entry = share / "applications" / "nonna.desktop"
    manual = share / "man" / "man1" / "nonna.1"
    for path in (launcher, icon, entry, manual):
        path.parent.mkdir(parents=True, exist_ok=True)
    launcher.unlink(missing_ok=True)
    launcher.symlink_to(program)
    icon.write_bytes((Path(__file__).parents[1] / "look" / "nonna.svg").read_bytes())
    entry.write_text(ENTRY.format(launcher=launcher), "utf-8")
    manual.write_bytes(resources.files("nonna.man").joinpath("nonna.1").read_bytes())
    return launcher, icon, entry, manual


def remove(home: Path) -> tuple[Path, ...]:
    """Take those files away again and return what was there; a launcher that is not ours stays."""
    share = home / ".local" / "share"
    launcher = home / ".local" / "bin" / "nonna"
    others = (
        share / "icons" / "hicolor" / "scalable" / "apps" / "nonna.svg", share / "applications" / "nonna.desktop",
        share / "man" / "man1" / "nonna.1",
    )  # fmt: skip
    gone = [path for path in (launcher, *others) if path.is_symlink() or (path in others and path.exists())]
    for path in gone:
        path.unlink()
    return tuple(gone)


STAYS = (
    "Your shops, their records, what the desk remembers and its log stay where they are. Delete those "
    "yourself, if you mean it:"
)


def main(arguments: Sequence[str] = ()) -> int:
    """Install for the user who runs this; with ``--remove`` take it away again and say what stays."""
    home = Path(os.environ.get("NONNA_HOME", Path.home()))
    try:
        made = remove(home) if "--remove" in arguments else install(home, Path(sys.executable).with_name("nonna"))
    except OSError as error:
        print(f"Not installed: {error}", file=sys.stderr)
        return 1
    for path in made:
        print(path)
    if "--remove" in arguments:
        print(STAYS, wiring.usual_shop(), wiring.settings_file(), sep="\n  ")
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
