/** How often a property is tried: as often as the test says, and so many times more in a campaign. */
export const runs = (usual: number): number => usual * Number(process.env['CAMPAIGN'] ?? 1);
