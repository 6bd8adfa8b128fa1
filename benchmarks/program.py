"""The whole program, as `serve` runs it, for what is measured, tested or shown in a browser."""

import tempfile
import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from delgrun.cli import prepare
from delgrun.ops import front_end, machine, surroundings
from delgrun.ops.supervisor import Supervisor


@contextmanager
def running(data: Path, *, demo: bool, say: Callable[[str], object] = lambda _: None) -> Iterator[Supervisor]:
    """The program with its data in a folder; stopped at the end."""
    data.chmod(0o755)
    parts = Supervisor(data, front_end.build(surroundings.FRONT_END, say), machine.free_port(None), say)
    try:
        prepare(parts.start_database(), data, with_demo=demo)
        parts.start_rest()
        threading.Thread(target=parts.watch, daemon=True).start()
        yield parts
    finally:
        parts.stop()


@contextmanager
def opened(*, demo: bool) -> Iterator[tuple[Supervisor, Page]]:
    """The program on data of its own, and a tab at 1280 x 800 in headless Chromium."""
    with running(Path(tempfile.mkdtemp(prefix="delgrun-bench-")), demo=demo) as parts, sync_playwright() as p:
        chromium = p.chromium.launch(executable_path="/usr/bin/chromium", args=["--no-sandbox", "--disable-gpu"])
        yield parts, chromium.new_page(viewport={"width": 1280, "height": 800})


# Requests of a drag, one after the other, as the page asks them: what it has from the answer before is not sent again,
# and where the server has an open line they go by that.
REQUESTS = """async ({ project, ip, chainage, level }) => {
  const took = [];
  const revision = Number(document.querySelector('.page').dataset.revision);
  const want = ['line', 'ledger', 'uses', 'works', 'mass'];
  let [have, upon] = [[], ''];
  const line = new WebSocket(location.origin.replace(/^http/, 'ws') + '/api/line');
  line.binaryType = 'arraybuffer';
  const opened = await new Promise((r) => { line.onopen = () => r(true); line.onerror = () => r(false); });
  const ask = async (path, body) => {
    if (opened) {
      line.send(`${path}\nmetric\n${body}`);
      return (await new Promise((r) => (line.onmessage = r))).data.slice(8);
    }
    const r = await fetch(path, { method: 'POST', headers: {
      'Content-Type': 'application/json', Accept: 'application/octet-stream' }, body });
    if (!r.ok) throw new Error(await r.text());
    return r.arrayBuffer();
  };
  for (let i = 0; i < 100; i++) {
    const began = performance.now();
    const edit = { what: 'move', ip, chainage_m: chainage + i / 50, level_m: level + i / 50, slide: true };
    const body = { revision, slot: 'line-1', road: null, ips: null, edits: [edit], at_m: null, have, upon, want };
    const data = await ask(`/api/projects/${project}/figures`, JSON.stringify(body));
    took.push(performance.now() - began);
    const size = new DataView(data).getUint32(0, true);
    const head = JSON.parse(new TextDecoder().decode(new Uint8Array(data, 4, size)));
    [have, upon] = [head.arrays.map(([, , digest]) => digest), head.token];
  }
  line.close();
  return took;
}"""
