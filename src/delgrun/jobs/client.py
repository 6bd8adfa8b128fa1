"""Submitting long work to Dask. Imports nothing of ours: work is named by its module and function."""

import importlib
import threading
import time
import uuid
from pathlib import Path
from typing import TYPE_CHECKING, Any

from delgrun.jobs import tls

if TYPE_CHECKING:
    from distributed import Client, Future


# Right after a start the workers come up a little later than the server.
_WAIT_S = 10.0
_SILENT = "The workers do not answer. Wait a moment and try again."


def call_by_name(module: str, function: str, *args: Any) -> Any:
    """Import and call; what a worker runs."""
    return getattr(importlib.import_module(module), function)(*args)


class Jobs:
    """A lazy connection to the cluster whose scheduler address stands in a file, or is given.

    `keys` is the folder of the certificate that the scheduler asks for; see `delgrun.jobs.tls`.
    """

    def __init__(self, keys: Path, address_file: Path | None = None, address: str | None = None) -> None:
        self._keys = keys
        self._file = address_file
        self._address = address
        self._client: Client | None = None
        self._connected_to = ""
        self._lock = threading.Lock()
        self._futures: dict[int, Future] = {}

    def submit(self, job_id: int, module: str, function: str, *args: Any) -> None:
        """Start work in the background.

        Raises
        ------
        ConnectionError
            The cluster does not answer.
        """
        with self._lock:
            client = self._connect()
            try:
                # Each hand-over is a task of its own, also of a job that was handed over before.
                key = f"job-{job_id}-{uuid.uuid4().hex}"
                future = client.submit(call_by_name, module, function, *args, key=key, pure=False, retries=0)
            except (OSError, TimeoutError) as e:
                self._client = None
                raise ConnectionError(_SILENT) from e
            # Kept, since Dask drops work that nobody holds on to.
            self._futures[job_id] = future

    def handed_over(self, job_id: int) -> bool:
        """Whether workers that are still there have been given the job and have not ended it."""
        future = self._futures.get(job_id)
        if future is None:
            return False
        if future.status == "pending" and self._client is not None and future.client is self._client:
            return True
        self.forget(job_id)
        return False

    def forget(self, job_id: int) -> None:
        """Let go of a job: its worker died, or is through with it."""
        self._futures.pop(job_id, None)

    def _connect(self) -> "Client":
        address = self._address
        until = time.monotonic() + _WAIT_S
        while address is None and self._file is not None:
            if self._file.exists():
                address = self._file.read_text().strip()
            elif time.monotonic() > until:
                break
            else:
                time.sleep(0.05)
        if not address:
            raise ConnectionError("The workers are still starting. Wait a moment and try again.")
        if self._client is None or self._connected_to != address:
            # A second of imports that no page but the first search needs.
            from distributed import Client

            if self._client is not None:
                # The workers were started again: what they were given is gone.
                self._client.close(timeout=1)
                self._client = None
                self._futures.clear()

            try:
                self._client = Client(address, security=tls.security(self._keys), timeout=5, set_as_default=False)
            except (OSError, TimeoutError) as e:
                raise ConnectionError(_SILENT) from e
            self._connected_to = address
        return self._client
