"""Where things live on this computer."""

from __future__ import annotations

from pathlib import Path

from platformdirs import user_config_path, user_data_path, user_state_path


def default_shop() -> Path:
    """Return the shop folder used when none is named."""
    return user_data_path("nonna") / "shop"


def settings_file() -> Path:
    """Return the file that remembers window and units."""
    return user_config_path("nonna") / "desk.ini"


def state_folder() -> Path:
    """Return where the log and the reports of crashes lie."""
    return user_state_path("nonna")
