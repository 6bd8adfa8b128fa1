"""What lies in the ground or hangs over it is called a utility: its tables and slot follow."""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None

_TABLES = (("services_version", "utilities_version"), ("service_point", "utility_point"))


def upgrade() -> None:
    there = set(sa.inspect(op.get_bind()).get_table_names())
    for before, after in _TABLES:
        # Made with its kind, not by a migration: a database that never had it gets it under its new name.
        if before in there:
            op.rename_table(before, after)
    op.execute("UPDATE version SET kind = 'utilities' WHERE kind = 'services'")
    op.execute("UPDATE revision_slot SET slot = 'utilities' WHERE slot = 'services'")
