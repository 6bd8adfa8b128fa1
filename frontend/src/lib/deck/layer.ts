/** A drawing that stays the same over many frames, kept as a picture of its own. */

interface Kept {
  key: string;
  canvas: HTMLCanvasElement;
}
const kept = new WeakMap<object, Kept>();

/**
 * Put the picture of `owner` on the canvas; it is drawn anew only when `key`, size or theme have changed.
 * On a drag nothing of it has, and thousands of contour pieces cost one copy.
 */
export function layer(
  c: CanvasRenderingContext2D,
  owner: object,
  key: string,
  width: number,
  height: number,
  draw: (c: CanvasRenderingContext2D) => void,
): void {
  const ratio = window.devicePixelRatio || 1;
  const full = `${key} ${width} ${height} ${ratio} ${document.documentElement.dataset.theme}`;
  let found = kept.get(owner);
  if (found?.key !== full) {
    const canvas = found?.canvas ?? document.createElement('canvas');
    canvas.width = Math.round(width * ratio);
    canvas.height = Math.round(height * ratio);
    const own = canvas.getContext('2d', { willReadFrequently: true })!;
    own.setTransform(ratio, 0, 0, ratio, 0, 0);
    draw(own);
    found = { key: full, canvas };
    kept.set(owner, found);
  }
  c.drawImage(found.canvas, 0, 0, width, height);
}
