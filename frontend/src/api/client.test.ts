import { afterEach, expect, it, vi } from 'vitest';
import { KeptArrays } from './binary';
import { ApiError, ask, figures, upload, type Asked } from './client';

type Row = [string, number, string, 'f4' | 'f8' | 'same', number];

function packed(header: object, rows: Row[], doubles: number[], singles: number[]): ArrayBuffer {
  let text = JSON.stringify({ ...header, arrays: rows });
  text += ' '.repeat((8 - ((text.length + 4) % 8)) % 8);
  const head = new TextEncoder().encode(text);
  const [f8, f4] = [Float64Array.from(doubles), Float32Array.from(singles)];
  const out = new Uint8Array(4 + head.length + f8.byteLength + f4.byteLength);
  new DataView(out.buffer).setUint32(0, head.length, true);
  out.set(head, 4);
  out.set(new Uint8Array(f8.buffer), 4 + head.length);
  out.set(new Uint8Array(f4.buffer), 4 + head.length + f8.byteLength);
  return out.buffer;
}
const asked: Asked = {
  revision: 2,
  slot: 'line-1',
  road: null,
  ips: null,
  edits: [],
  want: ['line'],
  at_m: 3,
};

afterEach(() => vi.unstubAllGlobals());

it('unpacks arrays with their base, and takes those it has from what it kept', () => {
  const kept = new KeptArrays();
  const rows: Row[] = [
    ['s', 2, 'aa', 'f8', 1234567],
    ['cut', 2, 'bb', 'f4', 0],
    ['level', 1, 'cc', 'f4', 300],
  ];
  const got = kept.unpack<{ revision: number }>(packed({ revision: 7 }, rows, [0.891, 10.25], [1, 2.5, 12.5]));
  expect(got.revision).toBe(7);
  expect([...got.arrays.s!]).toEqual([1234567.891, 1234577.25]);
  expect([[...got.arrays.cut!], [...got.arrays.level!]]).toEqual([[1, 2.5], [312.5]]);
  expect(kept.have).toEqual(['aa', 'bb', 'cc']);
  const again = kept.unpack(packed({}, [['s', 2, 'aa', 'same', 0]], [], []));
  expect(again.arrays.s).toBe(got.arrays.s);
  expect(() => kept.unpack(packed({}, [['s', 2, 'zz', 'same', 0]], [], []))).toThrow('left out “s”');
});

it('takes rows that did not change from the answer before, as the very same objects', () => {
  const kept = new KeptArrays(true);
  expect(kept.upon).toBe('');
  type Answered = { products: { line: { ips: object[]; name: string }; marks: object[] } };
  const [a, b, c, d] = [{ at: 1 }, { at: 2 }, { at: 3 }, { at: 4 }];
  const first = { line: { ips: [a, b, c], name: 'x' }, marks: [d] };
  const was = kept.unpack<Answered>(packed({ token: 'one', products: first }, [], [], [])).products;
  expect(kept.upon).toBe('one');
  const ips = { runs: [[0, 1], [-1, 2], [2, 1]], rows: [d, a] }; // prettier-ignore
  const next = { line: { ips, name: 'y' }, marks: { runs: [[0, 1]], rows: [] } };
  const now = kept.unpack<Answered>(packed({ token: 'two', products: next }, [], [], [])).products;
  expect(now).toEqual({ line: { ips: [a, d, a, c], name: 'y' }, marks: [d] });
  expect(now.line.ips[0]).toBe(was.line.ips[0]);
  expect(now.line.ips[3]).toBe(was.line.ips[2]);
  expect(now.marks[0]).toBe(was.marks[0]);
  expect(kept.upon).toBe('two');
});

it('figures are asked for in the binary form, with what is tried and what is here', async () => {
  const fetched = vi.fn(async () => new Response(packed({ revision: 2 }, [], [], []), { status: 200 }));
  vi.stubGlobal('fetch', fetched);
  expect((await figures(1, asked, new KeptArrays())).revision).toBe(2);
  const [url, init] = fetched.mock.calls[0] as unknown as [string, RequestInit];
  expect(url).toBe('/api/projects/1/figures');
  expect(JSON.parse(init.body as string)).toEqual({ ...asked, units: 'metric', have: [], upon: null });
  expect(init.headers as Record<string, string>).toMatchObject({
    Accept: 'application/octet-stream',
    'X-Delgrun-Units': 'metric',
  });
});

it('a refusal carries field and message; a dead server, or one that dies in its answer, is away', async () => {
  const refusal = { message: 'No room.', field: 'curve_length_m' };
  vi.stubGlobal('fetch', async () => new Response(JSON.stringify(refusal), { status: 422 }));
  const refused = await figures(1, asked, new KeptArrays()).catch((e) => e);
  expect(refused).toBeInstanceOf(ApiError);
  expect([refused.problem.field, refused.away]).toEqual(['curve_length_m', false]);
  vi.stubGlobal('fetch', async () => {
    throw new TypeError('failed to fetch');
  });
  const dead = (await upload('/api/x', new Blob(['1']), 'f', {}).catch((e: ApiError) => e)) as ApiError;
  expect([dead.message.includes('What was saved is kept'), dead.away]).toEqual([true, true]);
  vi.stubGlobal('fetch', async () => new Response('{"proj', { status: 200 }));
  const cut = (await upload('/api/x', new Blob(['1']), 'f', {}).catch((e: ApiError) => e)) as ApiError;
  expect(cut.away).toBe(true);
  await expect(ask(Promise.reject(new Error('network')))).rejects.toThrow('does not answer');
});

it('an answer without data is an error with what the server said', async () => {
  const response = new Response('', { status: 409 });
  const call = Promise.resolve({ error: { message: 'saved since' }, response });
  await expect(ask(call)).rejects.toThrow('saved since');
});

it('what is asked at every move goes by the open line, by a request where there is none or it is cut off', async () => {
  const lines: Line[] = [];
  class Line {
    static readonly OPEN = 1;
    readyState = 0;
    sent: string[] = [];
    onopen!: () => void;
    onclose!: () => void;
    onmessage!: (e: { data: ArrayBuffer }) => void;
    constructor(readonly url: string) {
      lines.push(this);
    }
    send(what: string): void {
      this.sent.push(what);
    }
    answer(status: number, data: ArrayBuffer): void {
      const out = new Uint8Array(8 + data.byteLength);
      new DataView(out.buffer).setUint32(0, status, true);
      out.set(new Uint8Array(data), 8);
      this.onmessage({ data: out.buffer });
    }
  }
  vi.stubGlobal('location', { origin: 'http://localhost:3000' });
  vi.stubGlobal('WebSocket', Line);
  const fetched = vi.fn(async () => new Response(packed({ revision: 1 }, [], [], []), { status: 200 }));
  vi.stubGlobal('fetch', fetched);
  const kept = new KeptArrays(true);
  // The first goes by a request, while the line is being opened; what isn't live never goes by the line.
  expect((await figures(1, asked, kept)).revision).toBe(1);
  expect(lines.map((l) => l.url)).toEqual(['ws://localhost:3000/api/line']);
  const [line] = lines as [Line];
  line.readyState = Line.OPEN;
  line.onopen();
  await figures(1, asked, new KeptArrays());
  expect(fetched).toHaveBeenCalledTimes(2);

  const live = figures(1, asked, kept);
  // A second while one is on its way does not wait for it.
  await figures(1, asked, kept);
  expect([line.sent.length, fetched.mock.calls.length]).toEqual([1, 3]);
  const [path, units, body] = line.sent[0]!.split('\n');
  expect([path, units]).toEqual(['/api/projects/1/figures', 'metric']);
  expect(JSON.parse(body!)).toMatchObject({ ...asked, have: [] });
  line.answer(200, packed({ revision: 8 }, [['s', 1, 'aa', 'f8', 0]], [4.5], []));
  expect([...(await live).arrays.s!]).toEqual([4.5]);

  const refused = figures(1, asked, kept);
  line.answer(422, new TextEncoder().encode('{"message":"No room."}').buffer);
  await expect(refused).rejects.toThrow('No room.');
  const lost = figures(1, asked, kept);
  line.onclose();
  expect((await lost).revision).toBe(1);
  expect([fetched.mock.calls.length, lines.length]).toEqual([4, 1]);
  // A line is opened anew with the next question.
  await figures(1, asked, kept);
  expect(lines.length).toBe(2);
});
