"""What a Dask worker runs."""

from delgrun.service import jobs
from delgrun.service.projects import Projects
from delgrun.store.database import Database

_projects: dict[str, Projects] = {}


def run_job(database_url: str, job_id: int) -> None:
    """One job; the worker keeps what it has derived for the next."""
    if database_url not in _projects:
        _projects[database_url] = Projects(Database(database_url))
    jobs.run(_projects[database_url], job_id)
