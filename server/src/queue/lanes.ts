/** Jobs of one lane are done one after another by one process of its own. Nobody waits for the quiet one's. */
export type LaneName = 'short' | 'long' | 'quiet' | 'folders';
export const LANES: readonly LaneName[] = ['short', 'long', 'quiet', 'folders'];
