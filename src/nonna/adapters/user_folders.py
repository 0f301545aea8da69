"""Where things live on this computer."""

from __future__ import annotations

from pathlib import Path


def default_shop() -> Path:
    """Return the shop folder used when none is named."""
    from platformdirs import user_data_path

    return user_data_path("nonna") / "shop"


def settings_file() -> Path:
    """Return the file that remembers window and units."""
    from platformdirs import user_config_path

    return user_config_path("nonna") / "desk.ini"


def state_folder() -> Path:
    """Return where the log and the reports of crashes lie."""
    from platformdirs import user_state_path

    return user_state_path("nonna")
