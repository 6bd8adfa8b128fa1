"""A new hillside of five kilometres with a straight centreline, for whoever draws grade lines over it."""

import numpy as np
from playwright.sync_api import Page

from helpers import bring_in, project_of, settled

LENGTH = 5000.0


def hillside() -> bytes:
    """Five kilometres of hillside, points each 25 m along and 20 m across."""
    x, y = np.meshgrid(np.arange(-25.0, LENGTH + 26, 25), np.arange(-80.0, 81.0, 20))
    z = 300 + 25 * np.sin(x / 700) + 8 * np.sin(x / 230) + 0.1 * y
    rows = np.column_stack([x.ravel(), y.ravel(), z.ravel()]).tolist()
    return ("easting,northing,level\n" + "\n".join(f"{a:.3f},{b:.3f},{c:.3f}" for a, b, c in rows)).encode()


def saved_after(page: Page, revision: int) -> int:
    page.wait_for_selector(f'.page[data-revision="{revision + 1}"]')
    settled(page)
    return revision + 1


def over_a_hillside(page: Page, program, name: str) -> None:
    """A project with ground and a centreline, opened at the step of the grade line, which is still to be made."""
    page.fill("#new-name", name)
    page.get_by_role("button", name="Start it").click()
    page.wait_for_selector(".page")
    project = project_of(page)
    bring_in(page, program, project, "hillside.csv", hillside(), longest_edge_m=60.0)
    base = f"{program.url}api/projects/{project}"
    end = {"radius_m": 0, "transition_in_m": 0, "transition_out_m": 0, "joins": False, "superelevation": None}
    ips = [{"easting_m": e, "northing_m": 0, **end} for e in (0, LENGTH)]
    made = {"base": page.request.get(base).json()["revision"], "start_chainage_m": 0, "ips": ips}
    assert page.request.put(f"{base}/centreline", data=made).ok
    page.reload()
    # A reload stays at the step it was at.
    page.get_by_role("button", name="Grade line").click()
