import { system, unitLength } from '../system.svelte';
import { KeptArrays } from '../../api/binary';

const KEY = 'delgrun-beside';

interface Stored {
  offsets: number[] | null;
  drawn: boolean;
}

function stored(): Stored {
  try {
    const { offsets, drawn } = JSON.parse(localStorage.getItem(KEY) ?? '{}') as Partial<Stored>;
    return { offsets: Array.isArray(offsets) ? offsets.map(Number) : null, drawn: drawn === true };
  } catch {
    // What somebody else wrote there is none of ours.
    return { offsets: null, drawn: false };
  }
}

/** Offsets of a list with commas or blanks, in the unit that is shown, in order, each once; null where it is none. [m] */
export function offsetsOf(text: string, most = 8): number[] | null {
  const numbers = text
    .split(/[\s,;]+/)
    .filter((t) => t)
    .map((t) => Number(t) * unitLength());
  const good = numbers.length <= most && numbers.every((n) => Number.isFinite(n) && Math.abs(n) <= 1000);
  return good ? numbers.filter((n, i) => numbers.indexOf(n) === i).sort((a, b) => a - b) : null;
}

/** Rows of a length that lie one behind the other. */
export function rowsOf(all: Float32Array | Float64Array, length: number): (Float32Array | Float64Array)[] {
  return Array.from({ length: all.length / length }, (_, i) => all.subarray(i * length, (i + 1) * length));
}

/** Ground beside the line: at which offsets, and whether the long section shows it; remembered on this machine. */
export class Beside {
  #typed = $state.raw(stored().offsets);
  offsets: number[] = $derived(
    this.#typed ?? [-1, 1].map((side) => side * (system() === 'metric' ? 5 : 15 * unitLength())),
  );
  drawn = $state(stored().drawn);
  /** Levels at each offset at all chainages, of the road and offsets that `key` names. */
  ground = $state.raw<{ key: string; chainage: ArrayLike<number>; levels: ArrayLike<number>[] } | null>(null);

  set(offsets: number[], drawn = this.drawn): void {
    [this.#typed, this.drawn] = [offsets, drawn];
    localStorage.setItem(KEY, JSON.stringify({ offsets, drawn } satisfies Stored));
  }

  /** Fetch it for the long section, once for each road and list of offsets. */
  async ask(project: number, revision: number, road: string, still: string): Promise<void> {
    const key = `${still} ${this.offsets.join()}`;
    if (!this.drawn || !this.offsets.length || this.ground?.key === key) return;
    const query = new URLSearchParams({ revision: String(revision), road, offsets: this.offsets.join(';') });
    const headers = { Accept: 'application/octet-stream' };
    const asked = fetch(`/api/projects/${project}/centreline/beside?${query}`, { headers });
    // Without ground, or server, there is nothing to be drawn, and the page says so elsewhere.
    const answer = await asked.catch(() => null);
    if (!answer?.ok) return;
    const { arrays } = new KeptArrays().unpack<object>(await answer.arrayBuffer());
    const chainage = arrays.beside_chainage!;
    this.ground = { key, chainage, levels: rowsOf(arrays.beside_level!, chainage.length) };
  }
}
