"""Alembic's environment: it is always given a connection by aequitone.logbook.storage.opening."""

from alembic import context

from aequitone.logbook.model import Base

context.configure(
    connection=context.config.attributes["connection"], target_metadata=Base.metadata, render_as_batch=True
)
with context.begin_transaction():
    context.run_migrations()
