"""Keeping the database's tables up to date."""

from delgrun.store.database import Database


def migrate(database_url: str) -> None:
    """Bring the tables to the newest migration; nothing is done where they are."""
    database = Database(database_url)
    database.migrate()
    database.engine.dispose()
