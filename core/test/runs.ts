const campaign = process.env['CAMPAIGN'];

/**
 * How often a property is tried: a quarter as often as the test says, its cases drawn anew each time; in a campaign so
 * many times as often.
 */
export const runs = (usual: number): number =>
  campaign === undefined ? Math.ceil(usual / 4) : usual * Number(campaign);

/** How many there are of something: as many as the test says, and so many times more in a campaign. */
export const scaled = (usual: number): number => usual * Number(campaign ?? 1);
