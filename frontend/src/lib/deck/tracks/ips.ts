import IpTable from '../../../steps/line/IpTable.svelte';
import type { TrackKind } from '../kind';

/** The IPs as a table: typed, pasted, deleted in bulk. */
export const ips: TrackKind = {
  id: 'ips',
  name: 'IP table',
  height: 164,
  needs: ['line'],
  component: IpTable,
};
