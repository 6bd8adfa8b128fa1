import { untrack } from 'svelte';
import type { ProductName } from '../../api/fields';
import { Axes } from './axes.svelte';

/** What is looked at: the road, the line, the IP in hand, the plumb line, the step. Nothing of it is saved. */
export class Selection {
  /** IPs picked in their table, by number, and whether it shows only rows that fail. */
  picked = $state.raw<number[]>([]);
  onlyFailing = $state(false);
  /** Slot of the centreline, and of the grade line over it. */
  road = $state('centreline');
  slot = $state<string | null>(null);
  ip = $state<number | null>(null);
  /** Place of the range of limits in hand among all. */
  range = $state<number | null>(null);
  /** Which stretch of those along the road is in hand: its list and its place among all. */
  along = $state<string | null>(null);
  /** Place of the level control in hand, and whether the next drag in the long section makes one. */
  control = $state<number | null>(null);
  drawsControl = $state(false);
  /** Products that cards in view ask for beside those of the tracks, by card. */
  #wants = $state.raw<Readonly<Record<string, ProductName[]>>>({});
  wants: ProductName[] = $derived(Object.values(this.#wants).flat());
  plumb = $state(0);
  pinned = $state(false);
  step = $state('line');
  readonly axes = new Axes();

  /** What a card asks for from now on, until it says otherwise. */
  want(card: string, products: ProductName[]): void {
    this.#wants = { ...untrack(() => this.#wants), [card]: products };
  }

  /** Put the plumb line at a chainage within the line. */
  setPlumb(chainage: number): void {
    const [from, to] = this.axes.full;
    this.plumb = Math.min(Math.max(chainage, from), to);
  }
}
