import { statfs } from 'node:fs/promises';
import type { DiskState } from '../contract.ts';

/** Free bytes on the disk of a folder, for this user; Infinity where the system does not tell. */
export async function freeBytes(folder: string): Promise<number> {
  try {
    const { bavail, bsize } = await statfs(folder);
    return bavail * bsize;
  } catch {
    return Infinity;
  }
}

/**
 * Looks at the free space now and then.
 * @param low bytes below which `tell` is called with true, and with false when there is room again
 */
export function watchDisk(
  folder: string,
  low: number,
  tell: (state: DiskState) => void,
  every = 15_000,
): { state(): DiskState; stop(): void } {
  let state: DiskState = { free: Infinity, low: false };
  const look = async () => {
    const free = await freeBytes(folder);
    const before = state;
    state = { free, low: free < low };
    if (state.low !== before.low) tell(state);
  };
  void look();
  const timer = setInterval(() => void look(), every);
  timer.unref();
  return { state: () => state, stop: () => clearInterval(timer) };
}
