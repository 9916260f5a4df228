// npm start: from a fresh clone to a running application.
import { buildBundles, buildWeb, dataFolder, installModules, say, startTypeScript, Stop } from './steps.mjs';
import { startPostgres } from './postgres.mjs';

let database;
let server;
let stopping = false;

async function stop(code) {
  if (stopping) return;
  stopping = true;
  say('\nStopping');
  if (server && server.exitCode === null && server.signalCode === null) {
    const ended = new Promise((resolve) => server.once('exit', resolve));
    server.kill('SIGTERM');
    await Promise.race([ended, new Promise((resolve) => setTimeout(resolve, 8000))]);
  }
  try {
    database?.stop();
  } catch (error) {
    say(error.message);
    code ||= 1;
  }
  process.exit(code);
}
process.on('SIGINT', () => void stop(0));
process.on('SIGTERM', () => void stop(0));
process.on('SIGHUP', () => void stop(0));

try {
  if (Number(process.versions.node.split('.')[0]) < 20) throw new Stop('Node.js 20 or newer is needed.');
  dataFolder();
  installModules();
  buildBundles();
  buildWeb();
  database = await startPostgres();
  if (!stopping) {
    server = startTypeScript('server/src/main.ts', { DATABASE_URL: database.url });
    server.on('message', (message) => {
      if (message?.ready) say('Stop with Ctrl-C.');
    });
    server.on('exit', (code) => void stop(code ?? 1));
  }
} catch (error) {
  say(error instanceof Stop ? error.message : error.stack);
  await stop(1);
}
