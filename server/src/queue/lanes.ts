/** Jobs of one lane are done one after another by one process of its own. */
export type LaneName = 'short' | 'long';
export const LANES: readonly LaneName[] = ['short', 'long'];
