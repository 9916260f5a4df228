import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { mkdir, open, readdir, realpath, rename, rm, stat } from 'node:fs/promises';
import { dirname, join, resolve, sep } from 'node:path';

/** What the list of a folder's files is called. */
export const MANIFEST = 'manifest.json';

/** A folder may not be written to; the message is for people. */
export class FolderError extends Error {
  override name = 'FolderError';
}

/**
 * Where a parcel's folder is, on this machine. Throws {@link FolderError} if it is not inside one of the roots that were
 * allowed, links followed; it need not be there yet.
 */
export async function folderWithin(roots: readonly string[], folder: string): Promise<string> {
  const path = resolve(folder);
  // The part of it that is there already decides where it really is.
  let there = path;
  while ((await realpath(there).catch(() => undefined)) === undefined && dirname(there) !== there)
    there = dirname(there);
  const real = join(await realpath(there), path.slice(there.length));
  for (const root of roots) {
    const own = await realpath(root).catch(() => undefined);
    if (own !== undefined && (real === own || real.startsWith(own.endsWith(sep) ? own : own + sep)))
      return real;
  }
  throw new FolderError(
    roots.length
      ? `${folder} is not inside a folder that was allowed when Zesty Crow was started (ZESTY_CROW_HAND_OVER).`
      : 'No folder was allowed when Zesty Crow was started. Set ZESTY_CROW_HAND_OVER, or download the parcel.',
  );
}

/** A folder that is numbered: whole ones have a list of their files. */
const NUMBERED = /^\d{4}$/;

/** The folder that is to be filled next in one of numbered folders: one that was not finished, or a new one. */
export async function nextNumbered(folder: string): Promise<string> {
  const names = await readdir(folder).catch(() => []);
  const last = names
    .filter((n) => NUMBERED.test(n))
    .sort()
    .at(-1);
  if (last === undefined) return join(folder, '0001');
  const whole = await stat(join(folder, last, MANIFEST)).catch(() => undefined);
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

/**
 * Writes a file under its name only when all of it is there: what is interrupted leaves nothing behind. A file that is the
 * same already is left alone. Returns whether it was written.
 */
export async function writeWhole(
  path: string,
  { size, sha256 }: { size: number; sha256: string },
  bytes: AsyncIterable<Uint8Array>,
): Promise<boolean> {
  const old = await stat(path).catch(() => undefined);
  if (old?.size === size && (await sumOfFile(path)) === sha256) return false;
  await mkdir(dirname(path), { recursive: true });
  const part = `${path}.part`;
  try {
    const file = await open(part, 'w');
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
    if ((error as NodeJS.ErrnoException).code === 'ENOSPC')
      throw new FolderError(
        `There is no room for ${path}. Make room and make the parcel again; what is written already stays.`,
      );
    throw error;
  }
}
