// npm start: from a fresh clone to a running application.
import { takeFolder } from './lock.mjs';
import {
  buildBundles,
  buildWeb,
  dataFolder,
  inWords,
  installModules,
  say,
  startServerProgram,
  StartError,
} from './steps.mjs';
import { startPostgres } from './postgres.mjs';

const FIRST_WAIT = 500;
const LONGEST_WAIT = 30_000;
/** A server that ran so long was sound: the next pause is short again. */
const SOUND_AFTER = 60_000;

let folder;
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
    if (server.exitCode === null && server.signalCode === null) server.kill('SIGKILL');
  }
  try {
    await database?.stop();
  } catch (error) {
    say(error.message);
    code ||= 1;
  }
  folder?.release?.();
  process.exit(code);
}
process.on('SIGINT', () => void stop(0));
process.on('SIGTERM', () => void stop(0));
process.on('SIGHUP', () => void stop(0));

/** Runs the server, and again if it ends by itself. One that never became ready has said why and ends everything. */
function runServer(env, wait = FIRST_WAIT) {
  const since = Date.now();
  let ready = false;
  server = startServerProgram('main', { ...env, DATABASE_URL: database.url });
  server.on('message', (message) => {
    if (!message?.ready) return;
    ready = true;
    // The next one must be found where pages look for it.
    env = { ...env, PORT: String(message.ready) };
    folder.note(`http://127.0.0.1:${message.ready}`);
    say('Stop with Ctrl-C.');
  });
  server.on('exit', (code, signal) => {
    if (stopping) return;
    if (!ready && wait === FIRST_WAIT) return void stop(code ?? 1);
    if (Date.now() - since > SOUND_AFTER) wait = FIRST_WAIT;
    say(`The server ended (${signal ?? `code ${code}`}). It is started again in ${wait / 1000} s.`);
    setTimeout(() => !stopping && runServer(env, Math.min(LONGEST_WAIT, wait * 2)), wait);
  });
}

try {
  if (Number(process.versions.node.split('.')[0]) < 20)
    throw new StartError('Node.js 20 or newer is needed.');
  const taken = takeFolder();
  if (taken.other) {
    const { address, pid } = taken.other;
    say(
      address
        ? `Zesty Crow runs already at ${address} (process ${pid}). It was left alone.`
        : `Zesty Crow is just being started here by process ${pid}. It was left alone.`,
    );
    process.exit(0);
  }
  folder = taken;
  installModules();
  buildBundles();
  buildWeb();
  database = await startPostgres(dataFolder(), {}, (begun) => (database = begun));
  if (!stopping) runServer({ ZESTY_CROW_DATA: dataFolder() });
} catch (error) {
  say(inWords(error));
  await stop(1);
}
