import type { Finding } from '../api/client';

/** IPs with failures, by number. */
export const failing = (findings: readonly Finding[]): ReadonlySet<number> =>
  new Set(findings.filter((u) => !u.advice && u.place === 'ip').map((u) => u.ip));
