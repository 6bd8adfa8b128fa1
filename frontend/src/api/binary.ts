/** Figures with arrays: header length, JSON header padded to 8 bytes, then float32 arrays in its order. */
export type Arrays = Record<string, Float32Array>;

export function unpack<T>(data: ArrayBuffer): T & { arrays: Arrays } {
  const size = new DataView(data).getUint32(0, true);
  const header = JSON.parse(new TextDecoder().decode(new Uint8Array(data, 4, size))) as T & {
    arrays: [string, number][];
  };
  const arrays: Arrays = {};
  let at = 4 + size;
  for (const [name, count] of header.arrays) {
    arrays[name] = new Float32Array(data, at, count);
    at += 4 * count;
  }
  return { ...header, arrays };
}
