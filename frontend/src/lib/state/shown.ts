import type { ProductName } from '../../api/fields';
import type { LayerId } from './map.svelte';
import type { Work } from './work.svelte';

/** A track as far as the state of the page needs to know it. */
export interface TrackShown {
  id: string;
  /** When there is anything to show in it; missing: always. */
  when?: (w: Work) => boolean;
  /** Products of the line that it draws or reads out. */
  needs: ProductName[];
}

/** A step of the work as far as the state of the page needs to know it. */
export interface StepShown {
  id: string;
  /** Tracks it shows by itself, from the top. */
  tracks: string[];
  /** Layers of the map it shows by itself. */
  map: LayerId[];
}

/** Scale of heights, and the levels shown; the long section's size as it was last drawn. */
export interface LongView {
  ratio: number;
  levels: [number, number];
  h: number;
}

/** What there is to show: given to `Work` by the page that makes it, so that state knows neither tracks nor panels. */
export interface Shown {
  /** In the order in which they stand at first. */
  tracks: readonly TrackShown[];
  steps: readonly StepShown[];
  /** How the long section is scaled. */
  long: (w: Work) => LongView;
}
