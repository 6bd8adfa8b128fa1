import { brief } from '../lib/units';
import type { Component } from 'svelte';
import { whole } from '../lib/format';
import { placed } from '../lib/state/along';
import type { LayerId } from '../lib/state/map.svelte';
import type { StepShown } from '../lib/state/shown';
import type { Work } from '../lib/state/work.svelte';
import AlongPanel from './along/AlongPanel.svelte';
import CentrelineStep from './centreline/CentrelineStep.svelte';
import LimitsPanel from './limits/LimitsPanel.svelte';
import LinePanel from './line/LinePanel.svelte';
import SearchPanel from './search/SearchPanel.svelte';
import SectionEditor from './section/SectionEditor.svelte';
import SectionPanel from './section/SectionPanel.svelte';
import SectionsPanel from './sections/SectionsPanel.svelte';
import SectionsView from './sections/SectionsView.svelte';
import SurveyStep from './survey/SurveyStep.svelte';

export interface Status {
  says: string;
  attention: boolean;
}

/** A step of the work. A new one is a folder here and a line below: the rail, its page and its commands follow. */
export interface StepKind extends StepShown {
  name: string;
  /** What the rail says of it. */
  status: (w: Work) => Status;
  /** "deck": the tracks with this panel beside them; "page": the whole room is the step's own. */
  layout: 'deck' | 'page';
  panel: Component;
  /** What may lie over the tracks in this step. */
  over?: Component;
  /** What stands over the tracks, which then have less room. */
  above?: Component;
}

const fine = (says: string): Status => ({ says, attention: false });
// Nothing yet is no failure.
const empty: Status = { says: 'empty', attention: false };

const ROAD: LayerId[] = ['contours', 'road', 'works'];

export const STEPS: StepKind[] = [
  {
    id: 'survey',
    name: 'Survey',
    status: (w) =>
      w.project?.surveys.length
        ? fine(`${whole(w.project.surveys.reduce((n, s) => n + s.point_count, 0))} pts`)
        : empty,
    layout: 'page',
    panel: SurveyStep,
    tracks: [],
    map: ['contours', 'breaklines', 'points', 'suspects'],
  },
  {
    id: 'centreline',
    name: 'Centreline',
    status: (w) => {
      if (w.drawing.dirty) return { says: 'not saved', attention: true };
      const ips = w.road?.ips;
      const bends = w.still?.ground.bends.length ?? (ips?.length ?? 2) - 2;
      return ips ? fine(bends === 1 ? '1 bend' : `${bends} bends`) : empty;
    },
    layout: 'page',
    panel: CentrelineStep,
    tracks: [],
    map: ['contours', 'breaklines', 'road'],
  },
  {
    id: 'limits',
    name: 'Limits',
    status: (w) => (w.project?.limits ? fine(brief('speed', w.project.limits.design_speed_kmh)) : empty),
    layout: 'deck',
    panel: LimitsPanel,
    tracks: ['bends', 'ranges', 'long', 'use', 'sight', 'speed'],
    map: ROAD,
  },
  {
    id: 'section',
    name: 'Section',
    status: (w) => (w.project?.works ? fine(`each ${brief('size', w.project.works.interval_m)}`) : empty),
    layout: 'deck',
    panel: SectionPanel,
    over: SectionEditor,
    tracks: ['strip', 'long', 'mass'],
    map: ROAD,
  },
  {
    id: 'along',
    name: 'Along the road',
    status: (w) => {
      const varies = (['ranges', 'lanes', 'changes'] as const).reduce((n, list) => n + placed(w, list).length, 0);
      if (!w.project?.works) return empty;
      return fine(varies ? `${varies} stretch${varies === 1 ? '' : 'es'}` : 'one section');
    },
    layout: 'deck',
    panel: AlongPanel,
    tracks: ['bends', 'lean', 'along', 'long'],
    map: ROAD,
  },
  {
    id: 'line',
    name: 'Grade line',
    status: (w) => {
      const fails = w.ledger?.failures ?? 0;
      if (fails) return { says: `✕ ${fails} fail${fails === 1 ? 's' : ''}`, attention: true };
      return w.lines.length ? fine('fine') : empty;
    },
    layout: 'deck',
    panel: LinePanel,
    tracks: ['bends', 'long', 'levels', 'difference', 'use', 'ips'],
    map: ROAD,
  },
  {
    id: 'sections',
    name: 'Sections',
    status: (w) => (w.walk.pins.length ? fine(`${w.walk.pins.length} pinned`) : w.lines.length ? fine('') : empty),
    layout: 'deck',
    panel: SectionsPanel,
    above: SectionsView,
    tracks: ['long'],
    map: ROAD,
  },
  {
    id: 'search',
    name: 'Search',
    status: (w) => {
      const s = w.jobs.job;
      if (w.jobs.live) return fine('running');
      if (s?.status === 'failed') return { says: 'failed', attention: true };
      const gap = s?.result?.gap;
      return fine(typeof gap === 'number' ? `gap ${(100 * gap).toFixed(1)} %` : 'not run');
    },
    layout: 'deck',
    panel: SearchPanel,
    tracks: ['strip', 'long', 'use', 'mass'],
    map: ROAD,
  },
];
