import type { TrackKind } from '../kind';
import { along } from './along';
import { bends } from './bends';
import { difference } from './difference';
import { ips } from './ips';
import { levels } from './levels';
import { long } from './long';
import { mass } from './mass';
import { lean } from './lean';
import { level, shift } from './prices';
import { ranges } from './ranges';
import { headlight, intermediate, passing, sight } from './sight';
import { speed } from './speed';
import { strip } from './strip';
import { use } from './use';

/** Every track, in the order in which they stand at first. */
export const ALL: TrackKind[] = [
  strip,
  bends,
  lean,
  along,
  ranges,
  long,
  difference,
  levels,
  use,
  sight,
  headlight,
  intermediate,
  passing,
  speed,
  mass,
  shift,
  level,
  ips,
];

export const TRACKS: Record<string, TrackKind> = Object.fromEntries(ALL.map((t) => [t.id, t]));
