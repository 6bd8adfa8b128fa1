"""Survey files brought in as the page does it."""

from delgrun.service import uploads
from delgrun.service.importing import ImportWish, bring_in


def looked_at(projects, pid: int, data: bytes, layout: dict | None = None, name: str = "s.csv") -> dict:
    return uploads.look(projects, pid, uploads.whole(projects, pid, name, data), layout, None)


def brought_in(projects, pid: int, data: bytes, name: str = "s.csv", **wish) -> tuple[int, dict]:
    """The revision it is saved in, and what is said of it."""
    return bring_in(projects, pid, ImportWish(upload_id=uploads.whole(projects, pid, name, data), **wish))
