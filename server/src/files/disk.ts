import { statfs } from 'node:fs/promises';
import type { DiskState } from '../contract.ts';

/** Milliseconds between two looks at the disk. */
const LOOK_EVERY = 15_000;

/** Free bytes on the disk of a folder, for this user; Infinity where the system does not tell. */
export async function freeBytes(folder: string): Promise<number> {
  try {
    const { bavail, bsize } = await statfs(folder);
    return bavail * bsize;
  } catch {
    return Infinity;
  }
}

/** Looks at the free space now and then; it is low below `low` bytes. */
export function watchDisk(folder: string, low: number, tell: (state: DiskState) => void): void {
  const look = async () => {
    const free = await freeBytes(folder);
    tell({ free, low: free < low });
  };
  void look();
  setInterval(() => void look(), LOOK_EVERY).unref();
}
