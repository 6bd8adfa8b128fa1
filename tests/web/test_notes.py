"""Notes through the API, as any input with rows: kept in order, held against their bounds, undone."""

from pathlib import Path

from delgrun.jobs.client import Jobs
from delgrun.service.jobs import Keeper
from delgrun.web.app import create_app


def test_notes_are_kept_in_their_order_and_bad_ones_refused(projects):
    client = create_app(projects, Keeper(projects, Jobs(Path())), None).test_client()
    made = client.post("/api/projects", json={"name": "notes"}).json
    url = f"/api/projects/{made['id']}"
    assert made["notes"] is None
    said = [(900.0, "culvert"), (120.5, "gate of the farm")]
    rows = [{"chainage_m": s, "words": words, "label": "words", "road": "centreline"} for s, words in said]
    saved = client.put(f"{url}/notes", json={"base": 1, "notes": {"rows": rows}}).json
    assert saved["project"]["notes"]["rows"] == rows and saved["project"]["history"]["undo"] == "Notes"
    silent = {"chainage_m": 1.0, "words": "", "label": "words", "road": "centreline"}
    bad = client.put(f"{url}/notes", json={"base": 2, "notes": {"rows": [silent]}})
    assert bad.status_code == 422 and bad.json["field"] == "words"
    client.post(f"{url}/undo", json={"base": 2})
    assert client.get(url).json["notes"] is None
