import type { Keys } from './way';

/** A drag on a handle: pointer captured, started after a few pixels, cancelled by Escape. No framework. */

export interface DragHandlers {
  onstart?: () => void;
  /** Where the pointer is, how far it went, and which keys are held; again when one of these changes. */
  onmove: (at: { x: number; y: number; dx: number; dy: number; keys: Keys }) => void;
  onend: () => void;
  oncancel: () => void;
}

const THRESHOLD_PX = 3;

export function drag(node: Element, read: () => DragHandlers): () => void {
  const target = node as HTMLElement;
  let from: { x: number; y: number; id: number } | null = null;
  // Asked once: in mid-drag the question would lay out the page.
  let frame: DOMRect;
  let moving = false;
  let last = { x: 0, y: 0 };

  const tell = (e: PointerEvent | KeyboardEvent) => {
    const [dx, dy] = from ? [last.x - from.x, last.y - from.y] : [0, 0];
    const keys = { shift: e.shiftKey, ctrl: e.ctrlKey || e.metaKey, alt: e.altKey };
    read().onmove({ x: last.x - frame.left, y: last.y - frame.top, dx, dy, keys });
  };
  const down = (e: PointerEvent) => {
    if (e.button !== 0) return;
    from = { x: e.clientX, y: e.clientY, id: e.pointerId };
    moving = false;
    frame = (node.closest('svg, .drag-frame') ?? node).getBoundingClientRect();
    target.setPointerCapture(e.pointerId);
    target.focus({ preventScroll: true });
    e.stopPropagation();
    read().onstart?.();
  };
  const move = (e: PointerEvent) => {
    if (!from || e.pointerId !== from.id) return;
    if (!moving && Math.hypot(e.clientX - from.x, e.clientY - from.y) < THRESHOLD_PX) return;
    moving = true;
    last = { x: e.clientX, y: e.clientY };
    tell(e);
  };
  const finish = (keep: boolean) => {
    if (!from) return;
    if (target.hasPointerCapture(from.id)) target.releasePointerCapture(from.id);
    from = null;
    if (!moving) return;
    moving = false;
    if (keep) read().onend();
    else read().oncancel();
  };
  const up = () => finish(true);
  const lost = () => finish(false);
  const key = (e: KeyboardEvent) => {
    if (e.key === 'Escape' && from) {
      finish(false);
      e.stopPropagation();
    } else if (moving && ['Shift', 'Control', 'Meta', 'Alt'].includes(e.key)) tell(e);
  };
  target.addEventListener('pointerdown', down);
  target.addEventListener('pointermove', move);
  target.addEventListener('pointerup', up);
  target.addEventListener('pointercancel', lost);
  window.addEventListener('keydown', key, true);
  window.addEventListener('keyup', key, true);
  return () => {
    target.removeEventListener('pointerdown', down);
    target.removeEventListener('pointermove', move);
    target.removeEventListener('pointerup', up);
    target.removeEventListener('pointercancel', lost);
    window.removeEventListener('keydown', key, true);
    window.removeEventListener('keyup', key, true);
  };
}
