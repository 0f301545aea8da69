"""No record is put in the place of another: SQLite's REPLACE asks no trigger that refuses changes."""

from alembic import op

revision = "0002"
down_revision = "0001"


def upgrade() -> None:
    """Add the trigger that refuses it."""
    if op.get_bind().dialect.name == "sqlite":
        op.execute(
            "CREATE TRIGGER records_no_replace BEFORE INSERT ON records "
            "WHEN EXISTS (SELECT 1 FROM records WHERE number = NEW.number OR hash = NEW.hash OR previous = NEW.previous) "
            "BEGIN SELECT RAISE(ABORT, 'records are never changed; sign a superseding one'); END"
        )
