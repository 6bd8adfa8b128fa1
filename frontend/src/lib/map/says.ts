const WINDS = ['N', 'NE', 'E', 'SE', 'S', 'SW', 'W', 'NW'];

/** The wind a bearing [rad, clockwise from north] points to. */
export function compass(bearing: number): string {
  return WINDS[Math.round(bearing / (Math.PI / 4)) % 8]!;
}
