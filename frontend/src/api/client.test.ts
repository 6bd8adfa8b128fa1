import { afterEach, expect, it, vi } from 'vitest';
import { unpack } from './binary';
import { ApiError, ask, preview, upload } from './client';

function packed(header: object, arrays: Record<string, number[]>): ArrayBuffer {
  const full = { ...header, arrays: Object.entries(arrays).map(([name, v]) => [name, v.length]) };
  let text = JSON.stringify(full);
  text += ' '.repeat((8 - ((text.length + 4) % 8)) % 8);
  const head = new TextEncoder().encode(text);
  const values = Float32Array.from(Object.values(arrays).flat());
  const out = new Uint8Array(4 + head.length + values.byteLength);
  new DataView(out.buffer).setUint32(0, head.length, true);
  out.set(head, 4);
  out.set(new Uint8Array(values.buffer), 4 + head.length);
  return out.buffer;
}

afterEach(() => vi.unstubAllGlobals());

it('unpacks header and arrays in their order', () => {
  const got = unpack<{ revision: number }>(packed({ revision: 7 }, { cut: [1, 2.5], fill: [], mass: [-3] }));
  expect(got.revision).toBe(7);
  expect([...got.arrays.cut!]).toEqual([1, 2.5]);
  expect(got.arrays.fill!.length).toBe(0);
  expect([...got.arrays.mass!]).toEqual([-3]);
});

it('a preview asks for the binary form and sends what is tried', async () => {
  const fetched = vi.fn(async () => new Response(packed({ revision: 2 }, {}), { status: 200 }));
  vi.stubGlobal('fetch', fetched);
  const body = { revision: 2, ips: null, edit: null, plumb_m: 3 };
  expect((await preview(1, 'line-1', body)).revision).toBe(2);
  const [url, init] = fetched.mock.calls[0] as unknown as [string, RequestInit];
  expect(url).toBe('/api/projects/1/lines/line-1/preview');
  expect(JSON.parse(init.body as string)).toEqual(body);
  expect((init.headers as Record<string, string>).Accept).toBe('application/octet-stream');
});

it('a refusal carries field and message, and a dead server says what is kept', async () => {
  const refusal = { message: 'No room.', field: 'curve_length_m' };
  vi.stubGlobal('fetch', async () => new Response(JSON.stringify(refusal), { status: 422 }));
  const refused = await preview(1, 'line-1', { revision: 1, ips: null, edit: null, plumb_m: null }).catch((e) => e);
  expect(refused).toBeInstanceOf(ApiError);
  expect(refused.problem.field).toBe('curve_length_m');
  vi.stubGlobal('fetch', async () => {
    throw new TypeError('failed to fetch');
  });
  const dead = await upload('/api/x', new Blob(['1']), 'f', {}).catch((e: ApiError) => e);
  expect((dead as ApiError).message).toContain('What was saved is kept');
  await expect(ask(Promise.reject(new Error('network')))).rejects.toThrow('does not answer');
});

it('an answer without data is an error with what the server said', async () => {
  const response = new Response('', { status: 409 });
  const call = Promise.resolve({ error: { message: 'saved since' }, response });
  await expect(ask(call)).rejects.toThrow('saved since');
});
