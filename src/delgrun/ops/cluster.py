"""The worker cluster for long work, in a process of its own: `python -m delgrun.ops.cluster FILE TLS WORKERS`."""

import os
import signal
import sys
import threading
from pathlib import Path

import dask
from distributed import LocalCluster

from delgrun.jobs import tls

# Named, not imported: what a worker runs is no business of the machine's side.
TASKS = "delgrun.jobs.tasks"


def serve(address_file: Path, keys: Path, workers: int) -> None:
    """Hold a cluster on loopback until told to end; its address stands in the file while it is up.

    `keys` is the folder of its certificate, made anew at each start.
    """
    done = threading.Event()
    for number in (signal.SIGTERM, signal.SIGINT):
        signal.signal(number, lambda *_: done.set())
    # Workers give way to the server, so that dragging stays smooth during a search.
    os.nice(5)
    tls.lay_out(keys)
    # Nothing is told over plain HTTP either.
    dask.config.set({"distributed.scheduler.http.routes": [], "distributed.worker.http.routes": []})
    with LocalCluster(
        n_workers=0,
        threads_per_worker=1,
        processes=True,
        dashboard_address=None,
        host="127.0.0.1",
        protocol="tls://",
        security=tls.security(keys),
        # The first search must not wait for its worker to import what it computes with.
        preload=[TASKS],
    ) as cluster:
        # Work can be handed over before there are workers to do it: they take seconds to import what they compute with.
        draft = address_file.with_suffix(".new")
        draft.write_text(cluster.scheduler_address)
        draft.rename(address_file)
        cluster.scale(workers)
        done.wait()
    address_file.unlink(missing_ok=True)


if __name__ == "__main__":
    serve(Path(sys.argv[1]), Path(sys.argv[2]), int(sys.argv[3]))
