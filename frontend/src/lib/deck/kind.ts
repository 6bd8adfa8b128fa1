import type { Component } from 'svelte';
import type { TrackShown } from '../state/shown';
import type { Work } from '../state/work.svelte';
import type { View } from './draw';

/**
 * One strip of information along the chainage axis. A new one is a file in `tracks/` and a line in its register:
 * the deck, order, heights, hiding, the track list and the command box follow from that.
 */
export interface TrackKind extends TrackShown {
  /** Its name in lists and commands. */
  name: string;
  /** What stands in its head, where that is more than its name. */
  title?: (w: Work) => string;
  /** Height until a person changes it; the one track without a height takes what is left. [px] */
  height?: number;
  /** Draw it, from 0 to the view's width and height. */
  draw?: (v: View, w: Work) => void;
  /** It draws the ground alone: no move of the line makes it draw again. */
  groundOnly?: boolean;
  /** It is of numbers: the plumb line does not run through it. */
  numbers?: boolean;
  /** What is there at the plumb line, in words. */
  readout?: (w: Work) => string;
  /** What stands in its head behind its name. */
  tools?: Component;
  /** What stands over the drawing, or instead of it. */
  component?: Component;
}
