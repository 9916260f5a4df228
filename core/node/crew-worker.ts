/** A thread that takes pieces of work; bundled beforehand by `npm run bundles`. */
import { parentPort } from 'node:worker_threads';
import { serveHand } from '../src/crew/hands.ts';
import { WORKS } from '../src/version/works.ts';

serveHand(WORKS, {
  post: (message, given) => parentPort!.postMessage(message, given),
  listen: (on) => parentPort!.on('message', on),
});
