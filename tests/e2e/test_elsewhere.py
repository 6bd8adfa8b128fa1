"""Workers of another machine: a scheduler that somebody else keeps, by DELGRUN_SCHEDULER and DELGRUN_TLS."""

import json
import math
import os
import socket
import subprocess
import sys
import threading
import time
import urllib.request

from delgrun.cli import prepare
from delgrun.core.first_line.wishes import Depths
from delgrun.jobs import tls
from delgrun.ops import front_end, machine, surroundings
from delgrun.ops.supervisor import Supervisor
from delgrun.service import centrelines, lines
from delgrun.service.projects import Projects, Saving
from delgrun.service.state import MAIN_ROAD
from surveys import brought_in


def ask(url: str, body: dict | None = None) -> dict:
    data = None if body is None else json.dumps(body).encode()
    request = urllib.request.Request(url, data, {"Content-Type": "application/json", "Accept": "application/json"})
    return json.loads(urllib.request.urlopen(request, timeout=20).read())


def short_road(url: str) -> str:
    """A project of one kilometre of hillside with a first line; its slot."""
    projects = Projects.at(url)
    pid = projects.create("Short road")
    rows = ["easting,northing,level"]
    rows += [
        f"{e},{n},{100 + 4 * math.sin(e / 90) + 0.1 * n:.3f}" for e in range(-20, 1021, 20) for n in range(-60, 61, 20)
    ]
    revision, _ = brought_in(projects, pid, "\n".join(rows).encode())
    end = {"radius_m": 0, "transition_in_m": 0, "transition_out_m": 0, "joins": False, "superelevation": None}
    ips = [{"easting_m": e, "northing_m": 0, **end} for e in (0, 1000)]
    revision, *_ = centrelines.save(
        projects, Saving(project_id=pid, base=revision), {"start_chainage_m": 0, "ips": ips}
    )
    return lines.fitted(projects, Saving(project_id=pid, base=revision), "first", MAIN_ROAD, Depths())[1]


def test_a_search_runs_on_workers_kept_elsewhere(tmp_path, monkeypatch):
    for parent in [tmp_path, *tmp_path.parents[:2]]:
        parent.chmod(parent.stat().st_mode | 0o011)
    data, there = tmp_path / "data", tmp_path / "there"
    data.mkdir(mode=0o755)
    tls.lay_out(there)
    with socket.create_server(("127.0.0.1", 0)) as free:
        address = f"tls://127.0.0.1:{free.getsockname()[1]}"
    shown = [
        f"--tls-{part}={there / name}"
        for part, name in (("ca-file", "ca.pem"), ("cert", "cert.pem"), ("key", "key.pem"))
    ]
    monkeypatch.setenv("DELGRUN_TLS", str(there))
    monkeypatch.setenv("DELGRUN_SCHEDULER", address)
    parts = Supervisor(data, front_end.build(surroundings.FRONT_END, lambda _: None), machine.free_port(None), print)
    kept: list[subprocess.Popen[bytes]] = []

    def keep(program: str, *how: str, **env: str) -> None:
        command = [sys.executable, "-m", f"distributed.cli.{program}", *how, *shown]
        kept.append(subprocess.Popen(command, env={**os.environ, **env}))

    try:
        keep(
            "dask_scheduler",
            "--host=127.0.0.1",
            f"--port={address.rsplit(':')[-1]}",
            "--protocol=tls",
            "--no-dashboard",
        )
        url = parts.start_database()
        prepare(url, data, with_demo=False)
        slot = short_road(url)
        # The workers there know the database as ours do: by their own surroundings.
        keep("dask_worker", address, "--nthreads=1", "--no-dashboard", "--no-nanny", DELGRUN_DATABASE_URL=url)
        parts.start_rest()
        threading.Thread(target=parts.watch, daemon=True).start()
        searches = parts.url + "api/projects/1/searches"
        ask(searches, {"slot": slot, "revision": ask(parts.url + "api/projects/1")["revision"]})
        until = time.monotonic() + 120
        while (search := ask(searches + "/newest")["search"])["status"] in ("waiting", "running"):
            assert time.monotonic() < until, search
            time.sleep(0.3)
        assert search["status"] == "done", search
        assert search["result"]["gap"] >= 0
        # None of our own were started.
        assert not parts.scheduler_file.exists() and not (data / "workers.log").exists()
    finally:
        parts.stop()
        for process in reversed(kept):
            process.kill()
            process.wait()
