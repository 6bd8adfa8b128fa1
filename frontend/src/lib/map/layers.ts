import type { LayerId } from '../state/map.svelte';

/** What the map can show; a new one is a line here and its drawing in the map. */
export const LAYERS: { id: LayerId; title: string }[] = [
  { id: 'backdrop', title: 'Picture from the air' },
  { id: 'contours', title: 'Contours' },
  { id: 'breaklines', title: 'Breaklines' },
  { id: 'points', title: 'Surveyed points' },
  { id: 'triangles', title: 'Triangles' },
  { id: 'suspects', title: 'Suspects' },
  { id: 'road', title: 'Centreline' },
  { id: 'works', title: 'Cut and fill' },
];
