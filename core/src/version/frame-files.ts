/** A file of a version as the rules see it: browser, server and command line each have more to say of theirs. */
export interface VersionFile {
  role: string;
  name: string;
  /** Null for what was brought in without a frame number. */
  frame: number | null;
}

/** Numbers of the frames that a version has, rising; empty for a single picture without a number. */
export const frameNumbers = (files: readonly VersionFile[]): number[] =>
  [...new Set(files.flatMap((f) => (f.role === 'picture' && f.frame !== null ? [f.frame] : [])))].sort(
    (a, b) => a - b,
  );

/**
 * The files that make one frame: its pictures (the beauty, and ID passes in files of their own, in the order in which
 * they came) and the manifests of the version, which hold for every frame.
 * @param frame the first one by default; a number that the version does not have means the files without a number
 */
export function filesOfFrame<F extends VersionFile>(
  files: readonly F[],
  frame?: number,
): { pictures: F[]; sidecars: F[] } {
  const pictures = files.filter((f) => f.role === 'picture');
  const wanted = frame ?? frameNumbers(files)[0];
  const own = pictures.filter((f) => f.frame === (wanted ?? null));
  return {
    pictures: own.length ? own : pictures.filter((f) => f.frame === null),
    sidecars: files.filter((f) => f.role === 'sidecar'),
  };
}

/** Numbers that lie farther apart than this are no sequence. */
const MOST_APART = 100_000;

/** Numbers between the first and the last of some frames that are not among them. */
export function gapsIn(frames: readonly number[]): number[] {
  const there = new Set(frames);
  if (there.size < 2) return [];
  const [first, last] = [Math.min(...there), Math.max(...there)];
  if (last - first > MOST_APART) return [];
  return Array.from({ length: last - first + 1 }, (_, i) => first + i).filter((n) => !there.has(n));
}
