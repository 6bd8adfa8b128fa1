"""Everything the application runs on: database, workers and server, started, watched and stopped together."""

import contextlib
import os
import select
import shutil
import signal
import subprocess
import sys
import threading
import time
import urllib.error
import urllib.request
from collections.abc import Callable
from pathlib import Path

from delgrun.ops import surroundings
from delgrun.ops.errors import MachineError
from delgrun.ops.private_database import PrivateDatabase

_UP_SECONDS = 60.0
_WORKERS_AFTER_S = 4.0
_SPARE_AFTER_S = 8.0
_AGAIN_S = 3.0
# A log that is longer is put aside; the one before that is dropped.
_LONGEST_LOG_BYTES = 5 * 2**20


class Child:
    """A process that something else started, as one of our own: when it ended, and ways to end it."""

    def __init__(self, pid: int) -> None:
        self.pid = pid
        # Stands for this process alone, also once its number is another's.
        self._handle = os.pidfd_open(pid)

    def poll(self) -> int | None:
        """None while it goes on."""
        return 0 if self._ended(0.0) else None

    def wait(self, timeout: float) -> int:
        if not self._ended(timeout):
            raise subprocess.TimeoutExpired(str(self.pid), timeout)
        return 0

    def send_signal(self, number: int) -> None:
        with contextlib.suppress(ProcessLookupError):
            signal.pidfd_send_signal(self._handle, number)

    def kill(self) -> None:
        self.send_signal(signal.SIGKILL)

    def __del__(self) -> None:
        os.close(self._handle)

    def _ended(self, within: float) -> bool:
        return bool(select.select([self._handle], [], [], within)[0])


class Supervisor:
    """Starts the parts in order and keeps them up.

    Parameters
    ----------
    data : Path
        Folder of the database, its log and everything else that is kept.
    front_end : Path
        Folder of the built front end.
    """

    def __init__(self, data: Path, front_end: Path, port: int, say: Callable[[str], None]) -> None:
        self.data, self.front_end, self.port, self._say = data, front_end, port, say
        self.database = PrivateDatabase(data)
        self.scheduler_file = data / "scheduler"
        self.logs = [data / "server.log", data / "workers.log", self.database.log]
        # A scheduler elsewhere takes the place of our own: its address, and the folder of its certificate.
        # All parts see the surroundings as they are now, whenever they are started again.
        self._surroundings = dict(os.environ)
        self._elsewhere = self._surroundings.get("DELGRUN_SCHEDULER")
        self._keys = Path(self._surroundings.get("DELGRUN_TLS", data / "tls")) if self._elsewhere else data / "tls"
        self._server: subprocess.Popen[bytes] | Child | None = None
        # One that has imported everything and makes servers of itself when they are needed.
        self._spare: subprocess.Popen[bytes] | None = None
        # Servers end when nobody holds the other end of this any more.
        self._alive, self._held = os.pipe()
        self._spare_due = float("inf")
        self._cluster: subprocess.Popen[bytes] | None = None
        self._cluster_due = float("inf")
        self._ending = threading.Event()

    @property
    def url(self) -> str:
        return f"http://127.0.0.1:{self.port}/"

    @property
    def server_pid(self) -> int:
        return self._server.pid if self._server else 0

    @property
    def spare_pid(self) -> int:
        """Of what makes servers when they are needed; 0 while there is none."""
        return self._spare.pid if self._spare else 0

    def start_database(self) -> str:
        """Bring the database up; returns its address for SQLAlchemy.

        The server is started beside it: what it imports takes as long as the database and its tables do.
        """
        self._say("starting the private database")
        # What is kept from here on is its owner's; as root the database is another account that must get at its data.
        os.umask(0o077)
        self.data.chmod(0o711 if os.geteuid() == 0 else 0o700)
        self.database.prepare()
        self.scheduler_file.unlink(missing_ok=True)
        self._start_server()
        self.database.launch()
        return self.database.url

    def start_rest(self) -> None:
        """Server, and a little later (in `watch`) workers; returns when the server answers.

        Raises
        ------
        MachineError
            The server did not come up.
        """
        self._say("starting the server")
        until = time.monotonic() + _UP_SECONDS
        while time.monotonic() < until:
            if self._server is None or self._server.poll() is not None:
                break
            with contextlib.suppress(urllib.error.URLError, OSError):
                urllib.request.urlopen(self.url + "api/alive", timeout=5).read()
                # What follows once the first page stands would keep it from its processor: the workers, a spare server.
                self._spare_due = time.monotonic() + _SPARE_AFTER_S
                if not self._elsewhere:
                    self._cluster_due = time.monotonic() + _WORKERS_AFTER_S
                return
            time.sleep(0.05)
        raise MachineError(f"The server did not come up; its log is {self.data / 'server.log'}.")

    def watch(self) -> None:
        """Start again whatever ends by itself, until `stop`."""
        while not self._ending.wait(0.1):
            self._put_logs_aside()
            try:
                if self.database.wake_if_full():
                    self._say("there is room on the disk again: the database, which waited for it, is started again")
                if self.database.restart_if_dead():
                    self._say("the database had ended and was started again")
            except (MachineError, OSError) as e:
                # As long as the disk is full, say. Once that is mended it comes up, and nothing has to be started anew.
                self._say(f"the database can't be started again just now, and is tried anew: {e}")
                self._ending.wait(_AGAIN_S)
            if self._cluster is None and time.monotonic() > self._cluster_due:
                self._start_cluster()
            if self._cluster is not None and self._cluster.poll() is not None:
                self._say("the workers had ended and were started again")
                self._start_cluster()
            if self._server is not None and self._server.poll() is not None:
                self._say("the server had ended and was started again")
                self._start_server()
                self._spare_due = time.monotonic() + _SPARE_AFTER_S
            if self._spare is not None and self._spare.poll() is not None:
                self._spare = None
                self._spare_due = time.monotonic()
            if self._spare is None and time.monotonic() > self._spare_due:
                self._spare = self._spawn_server("spare")

    def stop(self) -> None:
        """End everything, server first and database last."""
        self._ending.set()
        parts = (self._server, self._spare, self._cluster)
        for process in parts:
            if process is not None and process.poll() is None:
                process.send_signal(signal.SIGTERM)
        for process in parts:
            if process is not None:
                try:
                    process.wait(10)
                except subprocess.TimeoutExpired:
                    process.kill()
        self._server = self._spare = self._cluster = None
        self.database.stop()

    def _start_cluster(self) -> None:
        workers = max(1, min((os.cpu_count() or 2) - 1, 4))
        where = [str(self.scheduler_file), str(self._keys)]
        command = [sys.executable, "-m", "delgrun.ops.cluster", *where, str(workers)]
        self._cluster = self._spawn(command, "workers.log", self._of_data())

    def _start_server(self) -> None:
        spare = self._spare
        if spare is not None and spare.poll() is None and spare.stdin is not None and spare.stdout is not None:
            with contextlib.suppress(OSError, ValueError):
                spare.stdin.write(b"serve\n")
                spare.stdin.flush()
                self._server = Child(int(spare.stdout.readline()))
                return
        self._server = self._spawn_server()

    def _spawn_server(self, *how: str) -> subprocess.Popen[bytes]:
        env = self._of_data() | {
            "DELGRUN_SCHEDULER_FILE": str(self.scheduler_file),
            "DELGRUN_TLS": str(self._keys),
            "DELGRUN_FRONT_END": str(self.front_end),
            "DELGRUN_ALIVE": str(self._alive),
        }
        # One process, since its cache of terrains is worth more than a second interpreter; kernels release the lock.
        command = [sys.executable, "-m", "delgrun.web.serve", str(self.port), *how]
        return self._spawn(command, "server.log", env, answers=bool(how))

    def _of_data(self) -> dict[str, str]:
        """Where what is kept is: the database, and the shelf of results beside it."""
        return {
            "DELGRUN_DATABASE_URL": self.database.url,
            "DELGRUN_SHELF": str(self.data / "shelf"),
            "DELGRUN_SHELF_OF": f"{self.database.identity} {surroundings.core_digest()}",
        }

    def _put_logs_aside(self) -> None:
        for log in self.logs:
            with contextlib.suppress(OSError):
                if log.stat().st_size > _LONGEST_LOG_BYTES:
                    # Copied and emptied, not renamed: whoever writes it goes on writing into the same file.
                    shutil.copy2(log, log.with_suffix(".old.log"))
                    os.truncate(log, 0)

    def _spawn(
        self, command: list[str], log: str, env: dict[str, str], *, answers: bool = False
    ) -> subprocess.Popen[bytes]:
        with (self.data / log).open("ab") as out:
            return subprocess.Popen(
                ["setpriv", "--pdeathsig", "TERM", *command],
                stdin=subprocess.PIPE,
                stdout=subprocess.PIPE if answers else out,
                stderr=out,
                pass_fds=[self._alive],
                env={**self._surroundings, **env},
                start_new_session=True,
            )
