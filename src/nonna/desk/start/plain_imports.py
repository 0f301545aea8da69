"""Python's own ``import``, put back after the Qt binding replaced it.

The binding watches every import for a feature of its own that we do not use (``from __feature__ import``): it reads the
source of each module that is loaded, and makes each import statement a slow call, on the Qt thread too. With it the
first picture comes after 900 ms, without after 600 (a bare window: 320).
"""

import builtins

_plain = builtins.__import__
import PySide6.QtCore  # noqa: E402, F401 - this is what replaces it

builtins.__import__ = _plain
