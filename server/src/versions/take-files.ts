import { basename } from 'node:path';
import { readAllowed } from '../folders/folders.ts';
import { ProblemError } from '../http/problem.ts';
import { storeFile, TooLargeError } from '../files/store.ts';
import type { Pool } from '../database/pool.ts';
import { JobError } from '../queue/kind.ts';
import type { Settings } from '../settings.ts';
import { kindOfFile } from './file-kinds.ts';

/** Files of a folder on the server's machine that are to be brought in. */
export interface Taking {
  folder: string;
  files: { path: string; frame: number | null }[];
}

/** JSON schema of {@link Taking}. */
export const TAKING_SCHEMA = {
  type: 'object',
  additionalProperties: false,
  required: ['folder', 'files'],
  properties: {
    folder: { type: 'string', minLength: 1, maxLength: 4096 },
    files: {
      type: 'array',
      minItems: 1,
      maxItems: 20_000,
      items: {
        type: 'object',
        additionalProperties: false,
        required: ['path', 'frame'],
        properties: {
          path: { type: 'string', minLength: 1, maxLength: 4096 },
          frame: { type: ['integer', 'null'], minimum: 0, maximum: 9_999_999 },
        },
      },
    },
  },
} as const;

/**
 * Copies files from the server's machine into a version. One that was copied before, by a job that was stopped, is
 * copied again in its place. Throws {@link JobError} with what is wrong with the first that cannot be taken.
 */
export async function takeFiles(
  { pool, settings }: { pool: Pool; settings: Settings },
  owner: { shotId: string; versionId: string },
  { folder, files }: Taking,
  signal: AbortSignal,
  onFile: (share: number) => void,
): Promise<void> {
  for (const [i, { path, frame }] of files.entries()) {
    signal.throwIfAborted();
    onFile(i / files.length);
    const name = basename(path);
    const kind = kindOfFile(name);
    if (!kind) throw new JobError(`${name} is not a file that can be used.`);
    try {
      const bytes = await readAllowed(settings.folders, folder, path);
      const file = { ...owner, ...kind, name, replaces: true, ...(frame === null ? {} : { frame }) };
      await storeFile(pool, file, bytes, settings.uploadLimit);
    } catch (error) {
      if (error instanceof ProblemError) throw new JobError(`${name}: ${error.detail}`);
      if (error instanceof TooLargeError) throw new JobError(`${name}: ${error.message}`);
      throw error;
    }
  }
}
