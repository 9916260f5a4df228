// npm run worker: one more worker for the jobs of a database, on this or another machine.
import { installModules, say, startTypeScript } from './steps.mjs';

if (!process.env.DATABASE_URL) {
  say('Set DATABASE_URL to the address of the database whose jobs this worker shall do.');
  process.exit(1);
}
installModules();
const worker = startTypeScript('server/src/jobs/worker.ts', {});
worker.on('message', () => say('The worker is ready. Stop with Ctrl-C.'));
worker.on('exit', (code) => process.exit(code ?? 1));
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => worker.kill('SIGTERM'));
