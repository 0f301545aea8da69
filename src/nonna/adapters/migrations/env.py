"""Alembic's entry: migrations run on the connection the ledger hands over."""

from alembic import context

from nonna.adapters.schema import metadata

context.configure(connection=context.config.attributes["connection"], target_metadata=metadata)
context.run_migrations()
