"""What a Dask worker runs."""

from delgrun.service import searches
from delgrun.service.projects import Projects
from delgrun.store.database import Database

_projects: dict[str, Projects] = {}


def run_search(database_url: str, job_id: int) -> None:
    """One search; the worker keeps ground models between searches."""
    if database_url not in _projects:
        _projects[database_url] = Projects(Database(database_url))
    searches.run(_projects[database_url], job_id)
