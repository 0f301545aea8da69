"""Put a launcher, an icon and a desktop entry where this user's desktop finds them."""

from __future__ import annotations

import os
import sys
from pathlib import Path

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
    for path in (launcher, icon, entry):
        path.parent.mkdir(parents=True, exist_ok=True)
    launcher.unlink(missing_ok=True)
    launcher.symlink_to(program)
    icon.write_bytes((Path(__file__).parent / "look" / "nonna.svg").read_bytes())
    entry.write_text(ENTRY.format(launcher=launcher), "utf-8")
    return launcher, icon, entry


def main() -> int:
    """Install for the user who runs this."""
    home = Path(os.environ.get("NONNA_HOME", Path.home()))
    try:
        made = install(home, Path(sys.executable).with_name("nonna"))
    except OSError as error:
        print(f"Not installed: {error}", file=sys.stderr)
        return 1
    for path in made:
        print(path)
    return 0


if __name__ == "__main__":
    sys.exit(main())
