import { spawn, type ChildProcess } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import type { Application } from './application.ts';

const HOUSE = fileURLToPath(new URL('../..', import.meta.url));

/** Ids of the processes whose command line holds a text and which belong to an application's data. */
export function processesOf(data: string, text: string): number[] {
  return readdirSync('/proc')
    .filter((n) => /^\d+$/.test(n))
    .filter((pid) => {
      try {
        const line = readFileSync(`/proc/${pid}/cmdline`, 'utf8').replaceAll('\0', ' ');
        const of = line + readFileSync(`/proc/${pid}/environ`, 'utf8');
        return line.includes(text) && of.includes(data);
      } catch {
        return false;
      }
    })
    .map(Number);
}

/** Memory that a process has at the moment, in bytes. */
export const memoryOf = (pid: number): number =>
  1024 * Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))![1]);

/** Another worker for an application's database; resolves when it is ready. */
export function addWorker(
  { database }: Application,
  env: Record<string, string> = {},
): Promise<ChildProcess> {
  const child = spawn(process.execPath, ['scripts/worker.mjs'], {
    cwd: HOUSE,
    env: { ...process.env, ...env, DATABASE_URL: database },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  return new Promise((resolve, reject) => {
    child.stdout.on('data', (text: Buffer) => String(text).includes('ready') && resolve(child));
    child.once('exit', () => reject(new Error('The worker ended.')));
  });
}
