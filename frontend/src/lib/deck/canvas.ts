/** A canvas made ready for a frame: sized to the device's pixels, scaled to CSS ones, empty if wanted, see-through unless `opaque`. */
export function ready(
  canvas: HTMLCanvasElement | undefined,
  w: number,
  h: number,
  empty = true,
  opaque = false,
): CanvasRenderingContext2D | null {
  if (!canvas || w === 0 || h === 0) return null;
  const ratio = window.devicePixelRatio || 1;
  const [pw, ph] = [Math.round(w * ratio), Math.round(h * ratio)];
  if (canvas.width !== pw || canvas.height !== ph) [canvas.width, canvas.height] = [pw, ph];
  // In memory rather than on a graphics card: what is drawn is small and changes at every move.
  const c = canvas.getContext('2d', { willReadFrequently: true, alpha: !opaque })!;
  c.setTransform(ratio, 0, 0, ratio, 0, 0);
  if (empty) c.clearRect(0, 0, w, h);
  return c;
}
