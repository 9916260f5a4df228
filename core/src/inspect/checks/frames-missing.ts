import { gapsIn } from '../../version/frame-files.ts';
import type { VersionCheck } from '../version-check.ts';

/** Numbers as ranges, for people: 3, 7–9. */
export function rangesOf(numbers: readonly number[]): string {
  const ranges: [number, number][] = [];
  for (const n of numbers) {
    const last = ranges.at(-1);
    if (last && last[1] === n - 1) last[1] = n;
    else ranges.push([n, n]);
  }
  const shown = ranges.slice(0, 12).map(([a, b]) => (a === b ? String(a) : `${a}–${b}`));
  return shown.join(', ') + (ranges.length > 12 ? ', …' : '');
}

/** Frames of a sequence that never arrived. */
export const framesMissing: VersionCheck = {
  code: 'frames-missing',
  title: 'Frames without a gap',
  scope: 'version',
  run({ frames }) {
    const missing = gapsIn(frames);
    if (missing.length === 0) return [];
    return [
      {
        severity: 'warning',
        code: 'frames-missing',
        message: `${missing.length === 1 ? 'Frame' : 'Frames'} ${rangesOf(missing)} of ${frames[0]} to ${frames.at(-1)} ${missing.length === 1 ? 'is' : 'are'} missing. Render ${missing.length === 1 ? 'it' : 'them'}, and add the files here.`,
      },
    ];
  },
};
