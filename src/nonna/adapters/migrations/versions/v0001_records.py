"""The first shape: one chained table of records that only grows."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None


def upgrade() -> None:
    """Make the table, and in SQLite the triggers that refuse changes."""
    op.create_table(
        "records",
        sa.Column("number", sa.Integer, primary_key=True, autoincrement=True),
        sa.Column("hash", sa.String(64), nullable=False, unique=True),
        sa.Column("previous", sa.String(64), nullable=False, unique=True),
        sa.Column("signed_at", sa.String(40), nullable=False),
        sa.Column("kind", sa.String(20), nullable=False),
        sa.Column("name", sa.String(40), nullable=False),
        sa.Column("machine", sa.String(80), nullable=False),
        sa.Column("subject", sa.String(80), nullable=False),
        sa.Column("verdict", sa.String(12), nullable=False),
        sa.Column("operator", sa.String(80), nullable=False),
        sa.Column("value_mm", sa.Float),
        sa.Column("expanded_mm", sa.Float),
        sa.Column("refers_to", sa.Integer),
        sa.Column("note", sa.Text, nullable=False, server_default=""),
        sa.Column("body", sa.Text, nullable=False),
        sqlite_autoincrement=True,
    )
    if op.get_bind().dialect.name == "sqlite":
        for verb in ("UPDATE", "DELETE"):
            op.execute(
                f"CREATE TRIGGER records_no_{verb.lower()} BEFORE {verb} ON records "
                "BEGIN SELECT RAISE(ABORT, 'records are never changed; sign a superseding one'); END"
            )
