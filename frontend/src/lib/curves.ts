import type { Ip } from '../api/client';

type Held = Ip['held'];

/** What of the limits a curve can keep, as it is chosen. */
export const BY_LIMITS: [Extract<Held, 'limits' | 'stopping' | 'intermediate' | 'passing' | 'headlight'>, string][] = [
  ['limits', 'all that the limits ask'],
  ['stopping', 'their stopping sight'],
  ['intermediate', 'their sight of two that meet'],
  ['passing', 'their sight to pass'],
  ['headlight', 'their reach of headlights'],
];
