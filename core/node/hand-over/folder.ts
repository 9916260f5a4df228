import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { mkdir, open, readdir, realpath, rename, rm, stat } from 'node:fs/promises';
import { basename, dirname, join, sep } from 'node:path';
import { listName } from '../../src/parcels/lists.ts';

/** A folder may not be written to; the message is for people. */
export class FolderError extends Error {
  override name = 'FolderError';
}

/** The part of a path that is there. */
export async function thereOf(path: string): Promise<string> {
  let there = path;
  while ((await realpath(there).catch(() => undefined)) === undefined && dirname(there) !== there)
    there = dirname(there);
  return there;
}

/** Whether a path is a folder or lies in it; both as {@link realpath} gives them. */
export const isWithin = (top: string, real: string): boolean =>
  real === top || real.startsWith(top.endsWith(sep) ? top : top + sep);

/** Where a folder really is. Throws {@link FolderError} if links lead out of the root. */
async function staysWithin(root: string, folder: string): Promise<string> {
  const real = await realpath(folder);
  if (!isWithin(await realpath(root), real))
    throw new FolderError(`${folder} leads out of ${root} by a link. Nothing was written there.`);
  return real;
}

/** A folder that is numbered: whole ones have a list of their files. */
const NUMBERED = /^\d{4}$/;

/**
 * The folder that is to be filled next in one of numbered folders: one that was not finished, or a new one.
 * @param list in the names of the lists that are to be written, where they are of one frame only: a folder that has those
 * of other frames is not finished
 */
export async function nextNumbered(folder: string, list?: string): Promise<string> {
  const names = await readdir(folder).catch(() => []);
  const last = names
    .filter((n) => NUMBERED.test(n))
    .sort()
    .at(-1);
  if (last === undefined) return join(folder, '0001');
  const is = (number?: string) =>
    stat(join(folder, last, listName('manifest', number))).catch(() => undefined);
  const whole = (await is()) ?? (await is(list));
  return join(folder, whole ? String(Number(last) + 1).padStart(4, '0') : last);
}

/** Whether a file is there and another one. */
export async function differs(
  path: string,
  { size, sha256 }: { size: number; sha256: string },
): Promise<boolean> {
  const old = await stat(path).catch(() => undefined);
  return old !== undefined && (old.size !== size || (await sumOfFile(path)) !== sha256);
}

async function sumOfFile(path: string): Promise<string> {
  const hash = createHash('sha256');
  for await (const part of createReadStream(path)) hash.update(part as Buffer);
  return hash.digest('hex');
}

/** How a file is written into a folder. */
export interface Placing {
  /** The folder that was allowed: nothing is written elsewhere, wherever links lead. */
  root: string;
  /** Tells this writer's unfinished files from all others, for example the id of its job. */
  writer: string;
  /** When this writer began: a file that is the same and was written later is its own. */
  since: Date;
}

/**
 * Writes a file under its name only when all of it is there: what is interrupted leaves nothing behind that is called so. A
 * file that is the same already is left alone. Throws {@link FolderError} for one that would lie outside of the folder.
 * @returns whether it was written, now or by an earlier try of the same writer
 */
export async function writeWhole(
  path: string,
  { size, sha256 }: { size: number; sha256: string },
  bytes: AsyncIterable<Uint8Array>,
  { root, writer, since }: Placing,
): Promise<boolean> {
  const old = await stat(path).catch(() => undefined);
  if (old?.isFile() && old.size === size && (await sumOfFile(path)) === sha256) return old.mtime >= since;
  const folder = dirname(path);
  // Before a folder is made, and of the one that was made.
  await mkdir(root, { recursive: true });
  await staysWithin(root, await thereOf(folder));
  await mkdir(folder, { recursive: true });
  const real = await staysWithin(root, folder);
  const part = join(real, `.${basename(path)}.${writer}.part`.slice(-LONGEST_NAME));
  // Only a try of this very writer that was ended can have left it.
  await rm(part, { force: true });
  try {
    // Exclusively: a link that somebody lays in its way is not followed.
    const file = await open(part, 'wx');
    try {
      for await (const piece of bytes) await file.write(piece);
      await file.sync();
    } finally {
      await file.close();
    }
    if ((await sumOfFile(part)) !== sha256)
      throw new FolderError(`${path} is not what was written. Is the disk sound?`);
    await rename(part, path);
    return true;
  } catch (error) {
    await rm(part, { force: true });
    const words = { ENOSPC: ROOM, EDQUOT: ROOM, EROFS: READ_ONLY, EACCES: FORBIDDEN, EPERM: FORBIDDEN }[
      (error as NodeJS.ErrnoException).code ?? ''
    ];
    throw words ? new FolderError(words(path)) : error;
  }
}

/** Of file names, in bytes: what is put before and after a long one must leave room. */
const LONGEST_NAME = 120;
const ROOM = (path: string) =>
  `There is no room for ${path}. Make room and make the parcel again; what is written already stays.`;
const READ_ONLY = (path: string) => `${path} is on a disk that is read-only. Choose another folder.`;
const FORBIDDEN = (path: string) =>
  `Zesty Crow may not write ${path}. Change the permissions of its folder, or choose another one.`;
