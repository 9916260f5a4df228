import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { chmodSync, existsSync, mkdtempSync, readdirSync, renameSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { setTimeout as sleep } from 'node:timers/promises';
import { apiOf } from './api.ts';
import { startApplication, type Application } from './application.ts';

/** What the demo is read with, and what is read. */
const SOURCES = ['server/src', 'core/src', 'demo'].map((folder) =>
  fileURLToPath(new URL(`../../${folder}/`, import.meta.url)),
);
/** Longer than it takes to read the demo's shots, on a busy machine. */
const READING_MS = 170_000;
/** What a suite allows for its start, in milliseconds: the first one reads the demo. */
export const START_MS = 240_000;

/**
 * Starts the application with the demo's shots, all of them read, prepared and looked at for faults. That is done once for
 * each state of the sources; every start after it gets a copy of what came of it.
 */
export async function startWithDemo(name: string, env: Record<string, string> = {}): Promise<Application> {
  const seeded = join(tmpdir(), `zesty-crow-seeded-${stateOfSources()}`);
  if (!existsSync(seeded)) await seed(seeded);
  const data = openFolder(name);
  // The database's files belong to its own user.
  execFileSync('cp', ['-a', `${seeded}/.`, data]);
  return startApplication(data, env);
}

/** A name for the present state of the sources in this folder. */
function stateOfSources(): string {
  const latest = SOURCES.flatMap((folder) =>
    readdirSync(folder, { recursive: true, withFileTypes: true })
      .filter((entry) => entry.isFile())
      .map((entry) => statSync(join(entry.parentPath, entry.name)).mtimeMs),
  );
  return createHash('sha256')
    .update(`${SOURCES.join()} ${latest.length} ${Math.max(...latest)}`)
    .digest('hex')
    .slice(0, 16);
}

async function seed(folder: string): Promise<void> {
  const made = openFolder('seeding');
  const application = await startApplication(made);
  try {
    const call = apiOf(application);
    const end = Date.now() + READING_MS;
    const busy = async () =>
      (await call<{ state: string }[]>('GET', '/jobs')).filter(
        ({ state }) => state === 'waiting' || state === 'running',
      ).length;
    // What one job has others do after it is queued a moment later.
    for (let idle = 0; idle < 4; idle = (await busy()) ? 0 : idle + 1) {
      if (Date.now() > end) throw new Error('The demo was not read in time');
      await sleep(500);
    }
  } finally {
    await application.stop();
  }
  // Whole or not at all.
  renameSync(made, folder);
}

/** A new folder that the database's own user can reach, too, so that its files lie in there with the rest. */
function openFolder(name: string): string {
  const folder = mkdtempSync(join(tmpdir(), `zesty-crow-${name}-`));
  chmodSync(folder, 0o755);
  return folder;
}
