import IpTable from '../../../steps/line/IpTable.svelte';
import ManyIps from '../../../steps/line/ManyIps.svelte';
import type { TrackKind } from '../kind';

/** The IPs as a table: typed, pasted, deleted in bulk. */
export const ips: TrackKind = {
  id: 'ips',
  name: 'IP table',
  // Six rows under their heading.
  height: 206,
  needs: ['line'],
  tools: ManyIps,
  component: IpTable,
};
