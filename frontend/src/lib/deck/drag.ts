/** A drag on a handle: pointer captured, started after a few pixels, cancelled by Escape. No framework. */

export interface DragHandlers {
  onstart?: () => void;
  onmove: (at: { x: number; y: number }) => void;
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

  const down = (e: PointerEvent) => {
    if (e.button !== 0) return;
    from = { x: e.clientX, y: e.clientY, id: e.pointerId };
    moving = false;
    frame = (node.closest('svg') ?? node).getBoundingClientRect();
    target.setPointerCapture(e.pointerId);
    target.focus({ preventScroll: true });
    e.stopPropagation();
    read().onstart?.();
  };
  const move = (e: PointerEvent) => {
    if (!from || e.pointerId !== from.id) return;
    if (!moving && Math.hypot(e.clientX - from.x, e.clientY - from.y) < THRESHOLD_PX) return;
    moving = true;
    read().onmove({ x: e.clientX - frame.left, y: e.clientY - frame.top });
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
    }
  };
  target.addEventListener('pointerdown', down);
  target.addEventListener('pointermove', move);
  target.addEventListener('pointerup', up);
  target.addEventListener('pointercancel', lost);
  window.addEventListener('keydown', key, true);
  return () => {
    target.removeEventListener('pointerdown', down);
    target.removeEventListener('pointermove', move);
    target.removeEventListener('pointerup', up);
    target.removeEventListener('pointercancel', lost);
    window.removeEventListener('keydown', key, true);
  };
}
