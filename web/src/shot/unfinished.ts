import type { Version } from '@zesty-crow/server/contract';

/** Why something cannot be done with a version that is not all rendered yet, in words; undefined for one that is. */
export function unfinishedReason(
  version: Pick<Version, 'number' | 'unfinished'> | undefined,
): string | undefined {
  if (!version?.unfinished) return undefined;
  return version.unfinished === 'growing'
    ? `v${version.number} is still being rendered. Wait for it, or stop and keep it in Render.`
    : `The render of v${version.number} was stopped. Keep what is there, or render it again, in Render.`;
}
