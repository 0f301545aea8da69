"""The typeface the program ships, for the screen and for certificates alike."""

from pathlib import Path

REGULAR = Path(__file__).parent / "B612-Regular.ttf"
BOLD = Path(__file__).parent / "B612-Bold.ttf"
MORE = Path(__file__).parent / "DejaVuSans.ttf"  #: has the letters the others lack: Polish, Greek, Cyrillic
MORE_BOLD = Path(__file__).parent / "DejaVuSans-Bold.ttf"
