import type { ProductName } from '../../api/fields';
import { Axes } from './axes.svelte';

/** What is looked at: the road, the line, the IP in hand, the plumb line, the step. Nothing of it is saved. */
export class Selection {
  /** Slot of the centreline, and of the grade line over it. */
  road = $state('centreline');
  slot = $state<string | null>(null);
  ip = $state<number | null>(null);
  /** Place of the range of limits in hand among all. */
  range = $state<number | null>(null);
  /** Place of the level control in hand, and whether the next drag in the long section makes one. */
  control = $state<number | null>(null);
  drawsControl = $state(false);
  /** Products that a card in view asks for beside those of the tracks. */
  wants = $state.raw<ProductName[]>([]);
  plumb = $state(0);
  pinned = $state(false);
  step = $state('line');
  readonly axes = new Axes();

  /** Put the plumb line at a chainage within the line. */
  setPlumb(chainage: number): void {
    const [from, to] = this.axes.full;
    this.plumb = Math.min(Math.max(chainage, from), to);
  }
}
