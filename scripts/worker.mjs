// npm run worker: one more worker for the jobs of a database, on this or another machine.
import { buildBundles, installModules, say, startServerProgram } from './steps.mjs';

if (!process.env.DATABASE_URL) {
  say('Set DATABASE_URL to the address of the database whose jobs this worker shall do.');
  process.exit(1);
}
installModules();
buildBundles();

let worker;
let stopping = false;
function begin() {
  worker = startServerProgram('worker', {});
  worker.on('message', () => say('The worker is ready. Stop with Ctrl-C.'));
  worker.on('exit', (code) => {
    // 3: the database needs another version.
    if (stopping || code === 3) process.exit(code ?? 0);
    say('The worker ended, perhaps because the database was lost. Another one is started.');
    setTimeout(begin, 3000);
  });
}
for (const signal of ['SIGINT', 'SIGTERM'])
  process.on(signal, () => {
    stopping = true;
    worker.kill('SIGTERM');
  });
begin();
