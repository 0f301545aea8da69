"""Bring a ledger's stored shape up to date. Apart, because Alembic is slow to import and seldom needed."""

from __future__ import annotations

from pathlib import Path

from alembic import command
from alembic.config import Config
from sqlalchemy import Connection


def upgrade(connection: Connection) -> None:
    """Run every migration the ledger does not have yet, in the caller's transaction."""
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    config.attributes["connection"] = connection
    command.upgrade(config, "head")
