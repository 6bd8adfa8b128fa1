"""Every figure of docs/benchmarks.md: `PYTHONPATH=src .venv/bin/python benchmarks/run.py [part ...]`.

Parts: live, case, history, terrain, million, search, grounds, start, drag. Without any, all of them.
"""

import io
import os
import re
import subprocess
import sys
import tempfile
import time
from contextlib import contextmanager
from dataclasses import replace
from functools import partial
from pathlib import Path

from delgrun.ops import machine, surroundings

machine.put_system_folders_on_path()
surroundings.set_up(surroundings.data_folder())

import numpy as np  # noqa: E402  (the surroundings come first)
from scipy.optimize import linprog  # noqa: E402
from scipy.spatial import Delaunay  # noqa: E402

from delgrun.cli import compile_once  # noqa: E402
from delgrun.core.earthworks.evaluator import Earthworks, evaluate_line  # noqa: E402
from delgrun.core.gradeline.edits import move_ip  # noqa: E402
from delgrun.core.ground.along import ground_sections, long_section  # noqa: E402
from delgrun.core.ground.tin import build_tin  # noqa: E402
from delgrun.core.inputs import STRATA  # noqa: E402
from delgrun.core.limits.check import Checked  # noqa: E402
from delgrun.core.limits.checks import all_uses  # noqa: E402
from delgrun.core.search.bound import lower_bound  # noqa: E402
from delgrun.core.search.problem import SearchProblem  # noqa: E402
from delgrun.core.search.search import search  # noqa: E402
from delgrun.core.section.section import Section, section_of  # noqa: E402
from delgrun.core.section.typical_section import TypicalSection  # noqa: E402
from delgrun.demo.load import load  # noqa: E402
from delgrun.ops.private_database import PrivateDatabase  # noqa: E402
from delgrun.service.products import PRODUCTS  # noqa: E402
from delgrun.service.projects import Projects, Saving  # noqa: E402
from delgrun.store import revisions  # noqa: E402
from program import REQUESTS, opened  # noqa: E402
from roads import BenchRoad, demo_road, long_road, random_lines  # noqa: E402
from size import SMALL, size  # noqa: E402


def say(name: str, value: str) -> None:
    print(f"| {name} | {value} |", flush=True)


def spread(times: list[float]) -> str:
    ms = 1000 * np.array(times)
    return f"{np.median(ms):.2f} ms median, {np.percentile(ms, 95):.2f} p95, {ms.max():.2f} most"


def timed(work) -> tuple[float, object]:
    began = time.perf_counter()
    out = work()
    return time.perf_counter() - began, out


def exact_volumes(road: BenchRoad, level: np.ndarray) -> list[Section]:
    return [section_of(road.typical, *road.ground.one(i), level[i]) for i in range(len(level))]


def live() -> None:
    """One evaluation is a line not seen before: levels, volumes, haul, ledger, every limit and ground check."""
    for road in (demo_road(), *(long_road(length) for length in size((10_000.0, 50_000.0), ()))):
        lines = random_lines(road, size(600, 24))
        times = []
        for i, line in enumerate(lines):
            began = time.perf_counter()
            moved = move_ip(line, 3, line.ips[3].chainage_m + 1.5, line.ips[3].level_m + 0.4, slide=True).line
            evaluation = evaluate_line(road.works, moved, road.cost)
            all_uses(Checked(moved, road.limits, road.works, evaluation))
            if i >= 20:
                times.append(time.perf_counter() - began)
        say(f"evaluate {road.name}, {len(road.works.chainage_m)} sections", spread(times))
        # What a user would pick instead: every section computed exactly, as a report does it.
        seconds, _ = timed(partial(exact_volumes, road, lines[0].levels(road.works.chainage_m)))
        say(f"the same volumes by exact sections, {road.name}", f"{1000 * seconds:.0f} ms")


def case() -> None:
    """A changed input of the demo, until every LIVE figure of it is there; and what is kept for it."""
    with a_database() as projects:
        pid = load(projects, Path(tempfile.mkdtemp()), lambda _: None)
        live_ones = [p.name for p in PRODUCTS if p.when == "LIVE" and not p.at]

        def saved_and_shown(changes) -> float:
            began = time.perf_counter()
            base = projects.states.newest(pid).revision
            projects.save(Saving(project_id=pid, base=base), "changed", changes)
            projects.figures(pid, base + 1, live_ones, slot="line-1")
            return time.perf_counter() - began

        saved_and_shown({})
        state = projects.states.newest(pid)
        say("kept for the demo", f"{projects.made.bytes / 1e6:.1f} MB")

        def widened(width: float) -> TypicalSection:
            section = state.sections["section"].value
            lanes = [replace(e, width_m=width) if e.kind == "lane" else e for e in section.elements]
            return replace(section, elements=tuple(lanes))

        widths = [3.0 + k / 100 for k in range(1, size(9, 3))]
        wide = [saved_and_shown({"section": widened(width)}) for width in widths]
        say("lane width changed until every live figure stands", spread(wide))
        back = [saved_and_shown({"section": widened(width)}) for width in widths]
        say("the old values typed again", spread(back))
        depths = [3.0 + k / 100 for k in range(1, size(9, 3))]
        strata = state.get(STRATA)
        rows = [tuple(replace(r, depth_m=r.depth_m + depth) for r in strata.rows) for depth in depths]
        say("a stratum", spread([saved_and_shown({"strata": replace(strata, rows=own)}) for own in rows]))
        steep = [state.sections["section"].value] * len(depths)
        steeper = [
            replace(s, batters=tuple(replace(b, h_over_v=b.h_over_v + k / 100) for b in s.batters))
            for k, s in enumerate(steep, 1)
        ]
        say("a batter", spread([saved_and_shown({"section": section}) for section in steeper]))
        dear = [saved_and_shown({"cost": replace(state.cost, cut_per_m3=6.0 + k / 100)}) for k in range(1, size(40, 3))]
        say("unit cost changed", spread(dear))


def history() -> None:
    """Opening a project by the length of its history, through all that the page's first question reads."""
    with a_database() as projects:
        pid = projects.create("long")
        cost = projects.states.newest(pid).cost
        for upto in size((1, 1_000, 20_000), (1, 40)):
            with projects.database.session() as session:
                for number in range(projects_head(session, pid), upto):
                    # Every tenth is an undo, as people do.
                    if number % 10 == 0:
                        revisions.turn(session, pid, number, "", "undo")
                    else:
                        value = replace(cost, cut_per_m3=float(number))
                        revisions.save(session, pid, number, "", "c", {"cost": value})
            times = []
            for _ in range(30):
                fresh = Projects(projects.database)
                began = time.perf_counter()
                fresh.opened(pid)
                times.append(time.perf_counter() - began)
            say(f"open a project of {upto:,} revisions", spread(times))


def projects_head(session, pid: int) -> int:
    return revisions.head(session, pid).number


@contextmanager
def a_database():
    folder = Path(tempfile.mkdtemp(prefix="delgrun-bench-"))
    folder.chmod(0o755)
    server = PrivateDatabase(folder)
    server.start()
    try:
        projects = Projects.at(server.url)
        projects.database.migrate()
        yield projects
    finally:
        server.stop()


def terrain() -> None:
    for length in size((5_000.0, 10_000.0, 20_000.0), (2_000.0,)):
        road = long_road(length)
        a, cut = timed(lambda r=road: ground_sections(r.tin, r.centreline, r.works.chainage_m, 60.0))
        b, _ = timed(lambda c=cut, r=road: (w := Earthworks.of(c, r.typical)).pieces(w.columns(r.cost).sums))
        c, _ = timed(lambda r=road: long_section(r.tin, r.centreline))
        say(f"{length / 1000:.0f} km: sections, pieces, long section", f"{a:.2f} s, {b:.2f} s, {c:.2f} s")


def million() -> None:
    rng = np.random.default_rng(1)
    for count in size((250_000, 1_000_000), (5_000,)):
        xy = rng.uniform(0, np.sqrt(count) * 2, (count, 2))
        xyz = np.column_stack([xy, 10 * np.sin(xy[:, 0] / 90)])
        rows = np.argsort(xy[:, 0])[: count // 50]
        strings = [rows[k : k + 2] for k in range(0, len(rows) - 1, 2)]
        ours, _ = timed(lambda p=xyz, s=strings: build_tin(p, s, 60.0))
        scipys, _ = timed(lambda p=xyz: Delaunay(p[:, :2]))
        say(
            f"triangulate {count:,} points with breaklines",
            f"{ours:.1f} s; scipy's Delaunay without any {scipys:.1f} s",
        )
    lines = [f"{i},{e:.3f},{n:.3f},{z:.3f},GR" for i, (e, n, z) in enumerate(xyz.tolist())]
    data = "\n".join(lines).encode()
    from delgrun.exchange import survey_text
    from delgrun.service import imports

    a, _ = timed(lambda: imports.preview("million.csv", io.BytesIO(data), None))
    b, text = timed(lambda: survey_text.read(io.BytesIO(data), None))
    c, _ = timed(lambda: build_tin(text.survey.xyz, [], 60.0))
    say("1,000,000 points from a text file: preview, read, triangulate", f"{a:.1f} s, {b:.1f} s, {c:.1f} s")


def searched(name: str, problem, beside: str = "") -> None:
    first: list[float] = []
    bound_s, bound = timed(lambda: lower_bound(problem))
    began = time.perf_counter()

    def report(_, line) -> None:
        if line is not None and not first:
            first.append(time.perf_counter() - began)

    result = search(problem, report, lambda: False)
    seconds = time.perf_counter() - began
    lb = result.lower_bound
    say(
        f"search, {name}",
        f"bound {lb:,.0f}, {bound_s:.2f} s; best +{100 * (result.best.cost / lb - 1):.2f} % ({result.best.ips} IPs), "
        f"offered +{100 * result.gap:.2f} % ({result.offered.ips} IPs); first line {first[0]:.1f} s, "
        f"done {seconds:.1f} s{beside}",
    )
    # A search raises its bound as it goes on; it never falls below what is worked out at once.
    assert lb >= bound.lower_bound * (1 - 1e-9)


def search_demo() -> None:
    road = demo_road()
    lb = lower_bound(road.problem()).lower_bound
    hand = evaluate_line(road.works, road.by_hand, road.cost).ledger.cost
    searched("demo", road.problem(), f"; the line by hand +{100 * (hand / lb - 1):.1f} %")
    # A general solver on the levels of the hand-made line alone, haul left out: what a spreadsheet solver does.
    seconds, cost = timed(lambda: road.levels_by_highs(linprog))
    say(
        "HiGHS on the levels of the hand-made IPs (tangents of the areas, no chainages)",
        f"{cost:,.0f} in {seconds:.1f} s",
    )


def grounds() -> None:
    from grounds import CASES, problem

    for name in size(list(CASES), ["gentle"]):
        case = CASES[name]
        given = (
            f"; trial: bound {case['lower_bound']:,}, best +{100 * (case['best_ratio'] - 1):.2f} % "
            f"({case['best_ips']}), few +{100 * (case['fewest_within_1pct_ratio'] - 1):.2f} % "
            f"({case['fewest_within_1pct_ips']})"
        )
        searched(name, problem(name), given)


def _varied(name: str, problem: SearchProblem, seed: int) -> set[str]:
    """What is wrong with the search on one road, and its bound held against another line that keeps all limits."""
    import family as kinds
    from delgrun.core.earthworks.evaluator import evaluate_line
    from delgrun.core.errors import DesignInputError
    from delgrun.core.limits.checks import limit_uses

    out: set[str] = set()
    others = [line for k in range(4) if (line := kinds.another_line(problem, 10 * seed + k)) is not None]
    kept = [line for line in others if not any(u.fails for u in limit_uses(line, problem.kept))]
    try:
        found = search(problem, lambda *_: None, lambda: False)
    except DesignInputError as e:
        out.add("none found" if "not proven" in e.message else "called impossible")
        if kept and "called impossible" in out:
            out.add("impossible, but another line keeps all")
        return out
    if any(u.fails for u in limit_uses(found.best.line, problem.kept)):
        out.add("breaks a limit")
    costs = [found.best.cost, *(evaluate_line(problem.works, line, problem.cost).ledger.cost for line in kept)]
    # Tables are good to 0.02 m2 a section.
    good_to = 0.02 * problem.works.weight_m.sum() * (problem.cost.cut_per_m3 + problem.cost.fill_per_m3)
    if found.lower_bound > min(costs) * (1 + 1e-6) + good_to:
        out.add("above")
        print(f"  bound above a line: {name}")
    return out


def family() -> None:
    """Bound and lines on grounds of many kinds (family.py), held against what shares nothing with the search."""
    import family as kinds
    from delgrun.core.errors import DesignInputError
    from independent import breaks, by_highs, cost_of

    def one(seed: int, sections: int, holes: bool, highs: bool) -> dict[str, object]:
        name, problem = kinds.made(seed, sections, holes=holes)
        base = lower_bound(problem).lower_bound
        ten = lower_bound(replace(problem, cost=kinds.dearer(problem.cost, 10))).lower_bound
        turned = lower_bound(kinds.turned(problem)).lower_bound
        # Tables are good to 0.02 m2 a section: what a road costs that costs next to nothing is no more than that.
        good_to = 0.02 * problem.works.weight_m.sum() * (problem.cost.cut_per_m3 + problem.cost.fill_per_m3)
        out: dict[str, object] = {
            "name": name,
            "same": abs(ten / 10 - base) <= 2e-3 * abs(base) + good_to
            and abs(turned - base) <= 2e-3 * abs(base) + good_to,
        }
        if highs:
            theirs = by_highs(problem)
            out["tight"], out["tight but for tables"] = base >= 0.999 * theirs, base >= 0.999 * theirs - good_to
        if holes:
            return out
        try:
            result = search(problem, lambda *_: None, lambda: False)
        except DesignInputError as e:
            return out | {"none": "proven" in e.message and "not proven" not in e.message}
        out["broken"] = bool(breaks(problem, result.best.line) or breaks(problem, result.offered.line))
        costs = cost_of(problem, result.best.line)
        out["wrong"] = abs(result.best.cost - costs) > 1e-3 * costs + good_to
        out["below"] = result.best.cost < result.lower_bound - 1e-6 * abs(result.lower_bound)
        out["gap"] = result.best.cost / result.lower_bound - 1 if result.lower_bound > 0 else np.inf
        share = {part.why: part.share for part in result.parts}
        out["not explained"] = share.get("unknown", 0.0) if result.lower_bound > 0 else np.inf
        return out

    began = time.perf_counter()
    varied = [_varied(*kinds.varied(seed), seed) for seed in range(size(70, 2))]
    print(f"70 roads with ranges, options, short roads and plains, 60 sections: {time.perf_counter() - began:.0f} s")
    for what in ("none found", "called impossible", "impossible, but another line keeps all", "breaks a limit"):
        print(f"  {what}: {sum(what in v for v in varied)}")
    print(f"  bound above a line that passes all checks: {sum('above' in v for v in varied)}")
    for title, seeds, sections, holes, highs in (
        ("100 grounds, 60 sections", range(100), 60, False, True),
        ("20 grounds, 150 sections", range(100, 120), 150, False, True),
        ("20 grounds, 60 sections, a stretch without ground", range(120, 140), 60, True, True),
        ("10 grounds, 1 000 sections (5 to 20 km)", range(140, 150), 1000, False, False),
    ):
        began = time.perf_counter()
        found = [one(seed, size(sections, 60), holes, highs) for seed in size(seeds, seeds[:1])]

        def count(key: str, found: list[dict[str, object]] = found) -> int:
            return sum(bool(f.get(key)) for f in found)

        words = [f"the same turned round and at ten times the cost {count('same')}"]
        if highs:
            words += [f"at least 0.999 of HiGHS {count('tight')}, but for tables {count('tight but for tables')}"]
        if not holes:
            share = np.array([float(f["gap"]) for f in found if "gap" in f])
            left = np.array([float(f["not explained"]) for f in found if "gap" in f])
            within = ", ".join(f"{(share <= limit).sum()} within {limit:.1%}" for limit in (0.005, 0.02, 0.1))
            proven = count("none")
            words += [
                f"{len(share)} with a line: {within} of the bound; what limits do not explain is at most 2 % "
                f"for {(left <= 0.02).sum()}",
                f"{proven} proven impossible, {len(found) - len(share) - proven} without a line otherwise",
                f"{count('broken')} break a limit, {count('wrong')} cost otherwise, {count('below')} below the bound",
            ]
        say(title, "; ".join(words) + f"; {time.perf_counter() - began:.0f} s")
        for f in found:
            if (
                not f["same"]
                or f.get("tight but for tables") is False
                or f.get("broken")
                or f.get("wrong")
                or f.get("below")
            ):
                say("look at", str(f))


def start() -> None:
    """The second `./delgrun demo`, until it prints its URL."""
    env = {**os.environ, "DELGRUN_DATA": tempfile.mkdtemp(prefix="delgrun-bench-")}
    Path(env["DELGRUN_DATA"]).chmod(0o755)
    if SMALL:
        (Path(env["DELGRUN_DATA"]) / "kernels").symlink_to(surroundings.data_folder() / "kernels")
    for which in ("first start with nothing in the data folder", "second start", *size(("third start",), ())):
        process = subprocess.Popen(
            ["./delgrun", "demo"], cwd=surroundings.PROJECT, env=env, stdout=subprocess.PIPE, text=True
        )
        began = time.perf_counter()
        assert process.stdout
        for line in process.stdout:
            if "http://" in line:
                break
        say(which, f"{time.perf_counter() - began:.1f} s")
        process.terminate()
        process.wait()


def drag() -> None:
    """Pointer move to redrawn deck in headless Chromium: from the event to the frame that shows its answer."""
    with opened(demo=True) as (program, page):
        began = time.perf_counter()
        page.goto(program.url + "#/projects/1")
        page.wait_for_selector('.page[data-state="saved"]')
        say("open the demo project, until all figures stand", f"{time.perf_counter() - began:.2f} s")
        took = page.evaluate(_DRAG, size(120, 12))
        say("drag: pointer move to redrawn deck", spread([t / 1000 for t in took[5:]]))
        asked = page.evaluate(REQUESTS, {"project": 1, "ip": 5, "chainage": 1230, "level": 224})
        say("drag: the request alone", spread([t / 1000 for t in asked[5:]]))


# A move is answered when the ledger shows another cost; the frame that sees it also draws the tracks.
_DRAG = """async (count) => {
  const handle = document.querySelector('[data-ip="5"]');
  const cost = () => document.querySelector('[data-item="cost"]').dataset.value;
  const box = handle.getBoundingClientRect();
  const at = (x, y, type) => handle.dispatchEvent(new PointerEvent(type, {
    clientX: x, clientY: y, pointerId: 1, button: 0, buttons: 1, bubbles: true }));
  handle.setPointerCapture = () => {}; handle.hasPointerCapture = () => false;
  const frame = () => new Promise((r) => requestAnimationFrame(r));
  at(box.x + 13, box.y + 13, 'pointerdown');
  const took = [];
  for (let i = 0; i < count; i++) {
    await frame();
    const was = cost();
    const began = performance.now();
    at(box.x + 13 + 6 * Math.sin(i), box.y + 6 - i / 4, 'pointermove');
    while (cost() === was && performance.now() - began < 500) await frame();
    await new Promise((r) => setTimeout(r));
    took.push(performance.now() - began);
  }
  window.dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape' }));
  return took;
}"""

PARTS = {
    "live": live, "case": case, "history": history,
    "terrain": terrain, "million": million, "search": search_demo, "grounds": grounds, "family": family, "start": start,
    "drag": drag,
}  # fmt: skip

if __name__ == "__main__":
    print(f"{os.cpu_count()} cores, Python {re.split(' ', sys.version)[0]}, load {os.getloadavg()[0]:.1f}")
    compile_once("page")
    compile_once("rest")
    for part in sys.argv[1:] or PARTS:
        print(f"\n{part}\n", flush=True)
        PARTS[part]()
