"""Engine and sessions on MariaDB."""

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import sqlalchemy as sa
from sqlalchemy import Engine, create_engine
from sqlalchemy.orm import Session

from delgrun.store.grow import grow


class Database:
    """One pool of connections; sessions commit on leaving, or roll everything back."""

    def __init__(self, url: str) -> None:
        self.url = url
        self.engine: Engine = create_engine(
            url, pool_pre_ping=True, pool_size=10, max_overflow=30, pool_recycle=1800, isolation_level="READ COMMITTED"
        )

    @contextmanager
    def session(self) -> Iterator[Session]:
        with Session(self.engine) as session, session.begin():
            yield session

    def ask(self) -> None:
        """Hear from the database; raises OperationalError where it doesn't answer."""
        with self.engine.connect() as connection:
            connection.execute(sa.text("SELECT 1"))

    def migrate(self, to: str = "head") -> None:
        """Bring the tables to the newest migration and to the declared fields; `to` an older one, to that only."""
        # A server that is started again must be back soon, and has nothing to migrate.
        from alembic import command
        from alembic.config import Config

        config = Config()
        config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
        config.attributes["engine"] = self.engine
        command.upgrade(config, to)
        if to == "head":
            grow(self.engine)
