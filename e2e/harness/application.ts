import { spawn, type ChildProcess } from 'node:child_process';
import { fileURLToPath } from 'node:url';

const HOUSE = fileURLToPath(new URL('../..', import.meta.url));

/** A running application with data of its own. */
export interface Application {
  address: string;
  stop(): Promise<void>;
}

/**
 * Starts the application as `npm start` does, on a free port and with its data in `dataFolder`.
 * Rejects with what it printed if it is not ready in time.
 */
export function startApplication(dataFolder: string, env: Record<string, string> = {}): Promise<Application> {
  const child: ChildProcess = spawn(process.execPath, [`${HOUSE}/scripts/start.mjs`], {
    cwd: HOUSE,
    env: { ...process.env, PORT: '0', ZESTY_CROW_DATA: dataFolder, ...env },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  let output = '';
  const stop = () =>
    new Promise<void>((resolve) => {
      if (child.exitCode !== null) return resolve();
      child.once('exit', () => resolve());
      child.kill('SIGINT');
    });
  return new Promise((resolve, reject) => {
    const late = setTimeout(() => {
      void stop();
      reject(new Error(`The application was not ready in time:\n${output}`));
    }, 180_000);
    const hear = (part: Buffer) => {
      output += String(part);
      const address = /ready at (http:\S+)/.exec(output)?.[1];
      if (!address) return;
      clearTimeout(late);
      resolve({ address, stop });
    };
    child.stdout!.on('data', hear);
    child.stderr!.on('data', hear);
    child.on('exit', () => {
      clearTimeout(late);
      reject(new Error(`The application ended:\n${output}`));
    });
  });
}
