"""Alembic's entry: migrations run on the engine they are handed."""

from alembic import context

from delgrun.store.models import Base

engine = context.config.attributes["engine"]
with engine.connect() as connection:
    context.configure(connection=connection, target_metadata=Base.metadata, compare_type=True)
    with context.begin_transaction():
        context.run_migrations()
