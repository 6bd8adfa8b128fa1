"""A database of the first version, as that version wrote it: migrated, readable, and undone and redone as before."""

from pathlib import Path

import pytest
import sqlalchemy as sa

from delgrun.core.controls.utilities import Utilities, UtilityPoint
from delgrun.core.inputs import UTILITIES
from delgrun.core.section.roadside import Works
from delgrun.core.section.typical_section import plain_section
from delgrun.ops.private_database import PrivateDatabase
from delgrun.service.products import PRODUCTS
from delgrun.service.projects import Projects, Saving

DUMP = Path(__file__).parent / "first_version.sql"


@pytest.fixture
def older(tmp_path_factory):
    folder = tmp_path_factory.mktemp("older")
    for parent in [folder, *folder.parents[:3]]:
        parent.chmod(parent.stat().st_mode | 0o011)
    server = PrivateDatabase(folder)
    server.start()
    projects = Projects.at(server.url)
    with projects.database.engine.begin() as connection:
        for statement in DUMP.read_text().splitlines():
            connection.execute(sa.text(statement.replace(":", r"\:")))
    yield projects
    server.stop()


def test_a_project_of_the_first_version_goes_on(older):
    # As versions before 0006 marked numbers in sentences; what somebody wrote in quotation marks is theirs.
    label = "Centreline by ⟦5|length⟧, “mine ⟦5|length⟧ ⟦1e308|station⟧”"
    with older.database.engine.begin() as connection:
        changed = sa.text("UPDATE revision SET label = :label WHERE label = 'Centreline'")
        assert connection.execute(changed, {"label": label}).rowcount == 1
    older.database.migrate()
    opened = older.opened(1)
    assert (opened["revision"], opened["history"]["undo"], opened["history"]["redo"]) == (
        11, "K of IP 1", "Curve length of IP 1",
    )  # fmt: skip
    assert opened["limits"]["min_crest_k_m_per_pct"] == 11.0 and opened["limits"]["longest_tangent_m"] is None
    # One row of ten numbers is a section of rows, and how densely sections lie is an input of its own.
    state = older.states.newest(1)
    assert state.sections["section"].value == plain_section() and opened["notes"] is None
    assert state.works == Works()
    line = older.states.newest(1).line("line-1").line
    assert [ip.chainage_m for ip in line.ips] == [1000.0, 1200.0, 1400.4747253231812]
    assert (line.ips[1].curve_length_m, line.ips[1].held_k_m_per_pct) == (28.522, 12.0)
    assert older.figures(1, 11, [p.name for p in PRODUCTS], slot="line-1", at_m=1200.0)
    # Redo what was undone then, undo all, and nothing is left to undo but the defaults.
    base = older.turn(Saving(project_id=1, base=11), "redo")
    assert older.states.newest(1).line("line-1").line.ips[1].curve_length_m == 90.0
    undone = []
    while (label := older.opened(1)["history"]["undo"]) is not None:
        undone.append(label)
        base = older.turn(Saving(project_id=1, base=base), "undo")
    marked = "Centreline by \ufdd05|length\ufdd1, “mine ⟦5|length⟧ ⟦1e308|station⟧”"
    assert undone == [
        "Curve length of IP 1", "K of IP 1", "Add an IP at 1+200.00", "New grade line “straight”", "Limits",
        marked, "Survey “old.csv”", "Defaults for limits, section and costs",
    ]  # fmt: skip


def test_a_migration_that_was_cut_off_begins_again(older):
    older.database.migrate("0008")
    with older.database.engine.begin() as connection:
        # As far as it came: some tables, and an input without what it holds.
        connection.execute(sa.text("CREATE TABLE section_layer (version_id INT PRIMARY KEY)"))
        connection.execute(sa.text("INSERT INTO version (project_id, kind) VALUES (1, 'works')"))
    older.database.migrate()
    with older.database.engine.begin() as connection:
        # And all but its number.
        connection.execute(sa.text("UPDATE alembic_version SET version_num = '0008'"))
    older.database.migrate()
    state = older.states.newest(1)
    assert state.sections["section"].value == plain_section() and state.works == Works()
    assert older.figures(1, 11, ["ledger"], slot="line-1")


def test_utilities_that_were_called_services_are_still_there(older):
    older.database.migrate()
    ends = [UtilityPoint(name="gas", easting_m=x, northing_m=5.0, level_m=90.0) for x in (0.0, 9.0)]
    pipe = Utilities(rows=tuple(ends))
    older.save(Saving(project_id=1, base=11), "Services", {UTILITIES.name: pipe})
    before = (
        "RENAME TABLE utilities_version TO services_version, utility_point TO service_point",
        "UPDATE version SET kind = 'services' WHERE kind = 'utilities'",
        "UPDATE revision_slot SET slot = 'services' WHERE slot = 'utilities'",
        "UPDATE alembic_version SET version_num = '0007'",
    )
    with older.database.engine.begin() as connection:
        for statement in before:
            connection.execute(sa.text(statement))
    again = Projects.at(older.database.url)
    again.database.migrate("0008")
    with older.database.engine.begin() as connection:
        connection.execute(sa.text("UPDATE alembic_version SET version_num = '0009'"))
    again.database.migrate()
    assert again.states.newest(1).get(UTILITIES) == pipe
    again.save(Saving(project_id=1, base=12), "Utilities", {UTILITIES.name: Utilities(rows=pipe.rows[:1] * 2)})
    assert len(again.opened(1)["utilities"]["rows"]) == 2
