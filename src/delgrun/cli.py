"""delgrun demo | serve | test | doctor."""

import argparse
import os
import signal
import subprocess
import sys
import time
from collections import deque
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from functools import partial
from pathlib import Path
from types import FrameType
from typing import NoReturn

from delgrun.ops import front_end, machine, surroundings
from delgrun.ops.errors import MachineError
from delgrun.ops.supervisor import Supervisor

# How far compiling is, is told so often. [s]
_TELL_S = 20.0


def say(text: str) -> None:
    """One plain line of what is being done."""
    print(f"delgrun: {text}", flush=True)


def main(arguments: list[str] | None = None) -> int:
    parser = argparse.ArgumentParser(prog="delgrun", description="Vertical profiles for rural roads.")
    commands = parser.add_subparsers(dest="command", required=True, metavar="demo | serve | test | doctor")
    for name, text in (("demo", "install, load the demo once, and serve"), ("serve", "serve what is there")):
        sub = commands.add_parser(name, help=text)
        sub.add_argument("--port", type=int, help="port on 127.0.0.1 (the first free one from 8440 on)")
    test = commands.add_parser("test", help="install what tests need and run everything")
    test.add_argument("--only", choices=sorted(_TESTS), action="append", help="run one part only; may be repeated")
    commands.add_parser("doctor", help="check the machine and say what is wrong")
    options = parser.parse_args(arguments)
    machine.put_system_folders_on_path()
    try:
        if options.command == "doctor":
            return doctor()
        surroundings.set_up(surroundings.data_folder())
        if options.command == "test":
            return test_everything(options.only or list(_USUAL))
        return serve(options.port, with_demo=options.command == "demo")
    except MachineError as e:
        print(f"delgrun: {e}", file=sys.stderr, flush=True)
        return 1


_compiling: list[subprocess.Popen[bytes]] = []


def compile_once(part: surroundings.Part) -> None:
    """Compile a part of the kernels unless it is; in a process of its own, which keeps this one small."""
    if surroundings.is_compiled(part):
        return
    if part == "page":
        say("compiling the computation, once (one to two minutes)")
    # It ends with this process, however that ends.
    command = ["setpriv", "--pdeathsig", "TERM", sys.executable, "-m", "delgrun.service.warm", part]
    with subprocess.Popen(command) as compiling:
        _compiling.append(compiling)
        while True:
            try:
                failed = compiling.wait(_TELL_S)
                break
            except subprocess.TimeoutExpired:
                if part == "page":
                    say(f"compiling: {surroundings.compiled_share():.0%} of the computation")
    if failed == -signal.SIGTERM:
        # It was ended with the program: what is compiled is kept, the rest is done at the next start.
        return
    if failed:
        raise MachineError("The computation could not be compiled: see the lines above.")
    surroundings.mark_compiled(part)


def make_ready(pool: ThreadPoolExecutor) -> tuple[Path, Future[None]]:
    """Front end built, and the kernels compiled that a page asks for; the folder of the front end, and the rest of the
    kernels under way. All of it goes on side by side where it is to be done.
    """
    page, rest = pool.submit(compile_once, "page"), pool.submit(compile_once, "rest")
    built = pool.submit(front_end.build, surroundings.FRONT_END, say)
    page.result()
    return built.result(), rest


def serve(wanted_port: int | None, *, with_demo: bool) -> int:
    began = time.monotonic()
    data = surroundings.data_folder()
    try:
        data.mkdir(parents=True, exist_ok=True)
    except OSError as e:
        raise MachineError(f"{data} cannot be made ({e.strerror}): set DELGRUN_DATA to a folder you own.") from e
    machine.need_writable(data)
    # A port that is taken is told before minutes of installing and compiling.
    port = machine.free_port(wanted_port)
    machine.need_programs(["mariadbd", "setpriv"], say)
    pool = ThreadPoolExecutor(3)
    built, rest = make_ready(pool)
    rest.add_done_callback(_search_is_ready if not surroundings.is_compiled("rest") else lambda _: None)
    parts = Supervisor(data, built, port, say)

    def end(_number: int, _frame: FrameType | None) -> NoReturn:
        raise KeyboardInterrupt

    # Also where a shell that started this in the background has told it to ignore Ctrl-C.
    for number in (signal.SIGTERM, signal.SIGINT):
        signal.signal(number, end)
    try:
        prepare(parts.start_database(), data, with_demo)
        parts.start_rest()
        say(f"ready after {time.monotonic() - began:.1f} s. Ctrl-C stops everything.")
        print(f"\n  {parts.url}\n", flush=True)
        parts.watch()
    except KeyboardInterrupt:
        say("stopping")
    finally:
        for process in _compiling:
            process.terminate()
        parts.stop()
    return 0


def _search_is_ready(rest: Future[None]) -> None:
    if surroundings.is_compiled("rest"):
        say("the search is compiled too")
    elif rest.exception() is not None:
        say("the search could not be compiled ahead: its first run takes a minute longer")


def prepare(database_url: str, data: Path, with_demo: bool) -> None:
    """Bring the tables up to date and load the demo where it was never loaded."""
    # Each part is imported when it is needed: a second start must not wait for the computation's libraries here.
    from delgrun.service.upkeep import migrate

    migrate(database_url)
    mark = data / "demo" / "loaded"
    if with_demo and not mark.exists():
        from delgrun.demo import hillside
        from delgrun.demo.load import load
        from delgrun.service.projects import Projects

        say("loading the demo project, once")
        projects = Projects.at(database_url)
        load(projects, data / "demo", say)
        hillside.load(projects, data / "demo", say)
        mark.touch()


def doctor() -> int:
    findings = machine.examine(surroundings.data_folder())
    for f in findings:
        print(f"{'fine ' if f.fine else 'WRONG'}  {f.name:<15} {f.says}" + ("" if f.fine else f"  ->  {f.mend}"))
    bad = sum(not f.fine for f in findings)
    print("Nothing is wrong." if not bad else f"{bad} to mend.")
    return 1 if bad else 0


def _run(*command: str, folder: Path = surroundings.PROJECT) -> bool:
    return subprocess.run(command, cwd=folder, check=False).returncode == 0


def _python(*args: str) -> bool:
    return _run(sys.executable, "-m", *args)


def _lint() -> bool:
    imports = str(Path(sys.executable).parent / "lint-imports")
    ok = _python("ruff", "check", ".") and _python("ruff", "format", "--check", ".") and _python("mypy")
    return _run(imports, "--no-cache", "--no-logo") and ok


def _front_end() -> bool:
    folder = surroundings.FRONT_END
    # Every part runs, also after one has failed.
    passed = [_run("npm", "run", "-s", name, folder=folder) for name in ("lint", "check", "types:check", "test")]
    return all(passed)


_SEARCHES = ("tests/core/search", "tests/core/first_line", "tests/core/controls")


def _core() -> bool:
    elsewhere = (*_SEARCHES, "tests/service", "tests/web", "tests/e2e")
    return _python("pytest", *(f"--ignore={folder}" for folder in elsewhere))


def _kills() -> bool:
    """The kill campaigns at length: a hundred rounds each, by themselves, since they are about time too."""
    os.environ["DELGRUN_KILL_ROUNDS"] = "100"
    return _python("pytest", "-k", "kill_9", "--durations=5", "tests/store", "tests/e2e")


def _fuzz() -> bool:
    """Twenty thousand random calls of the API instead of five hundred, and a thousand mutated files of each reader."""
    os.environ["DELGRUN_FUZZ_CALLS"] = "20000"
    os.environ["DELGRUN_MUTATED_FILES"] = "1000"
    return _python("pytest", "tests/web/test_contract.py", "tests/web/test_mutated_files.py")


def _million() -> bool:
    """From a dirty survey to trusted ground, in the browser, with a million points instead of a few thousand."""
    os.environ["DELGRUN_SURVEY_SIZE"] = "1250x800"
    return _python("pytest", "-k", "blunders", "--durations=5", "tests/e2e/test_ground.py")


def _benchmarks() -> bool:
    """Every benchmark once, on the smallest input, those in the browser too."""
    os.environ["DELGRUN_ALL_BENCHMARKS"] = "1"
    return _python("pytest", "tests/benchmarks")


def _laws() -> bool:
    """Every law against twelve times as many made cases as in the usual run."""
    os.environ["DELGRUN_LAWS"] = "5"
    return _python("pytest", "tests/core", "tests/exchange", "tests/store")


_TESTS: dict[str, Callable[[], bool]] = {
    "lint": _lint,
    "frontend": _front_end,
    "browser": partial(_python, "pytest", "tests/e2e"),
    "search": partial(_python, "pytest", *_SEARCHES),
    "service": partial(_python, "pytest", "tests/service"),
    "core": _core,
    "benchmarks": _benchmarks,
    "api": partial(_python, "pytest", "tests/web"),
    "kills": _kills,
    "fuzz": _fuzz,
    "million": _million,
    "laws": _laws,
}
# Campaigns run only when they are asked for; the others in this order, the longest before the shorter ones.
_USUAL = ("lint", "frontend", "browser", "search", "core", "service", "api")
# These need no kernels, and these those of the page alone: the rest is compiled meanwhile.
_WITHOUT, _PAGE_ONLY = ("lint", "frontend"), ("browser", "api")
_WORKERS = 2


def test_everything(names: list[str]) -> int:
    """Linters, types, front end, pytest by folders and the real interface: two at a time, from one queue."""
    machine.need_programs(["mariadbd", "setpriv", "chromium"], say)
    front_end.install(surroundings.FRONT_END, say)
    failed: list[str] = []
    waiting = deque(n for n in _USUAL if n in names)

    def work(page: Future[tuple[Path, Future[None]]]) -> None:
        while waiting:
            name = waiting.popleft()
            if name not in _WITHOUT:
                _, rest = page.result()
                if name not in _PAGE_ONLY:
                    rest.result()
            one(name)

    def one(name: str) -> None:
        say(f"running {name}")
        began = time.monotonic()
        if not _TESTS[name]():
            failed.append(name)
        say(f"{name} {'FAILED' if name in failed else 'passed'} after {time.monotonic() - began:.0f} s")

    with ThreadPoolExecutor(8) as pool:
        page = pool.submit(make_ready, pool)
        for worker in [pool.submit(work, page) for _ in range(_WORKERS)]:
            worker.result()
    for name in names:
        if name not in _USUAL:
            one(name)
    say(f"FAILED: {', '.join(failed)}" if failed else "everything passed")
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main())
