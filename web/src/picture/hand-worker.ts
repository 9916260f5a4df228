/** A thread that takes pieces of work from the picture's worker. */
import { serveHand } from '@zesty-crow/core/crew';
import { WORKS } from '@zesty-crow/core/version';

serveHand(WORKS, {
  post: (message, given = []) => self.postMessage(message, given),
  listen: (on) => self.addEventListener('message', (e) => on(e.data)),
});
