import type { HandPort } from '@zesty-crow/core/crew';

/** The line to a hand in a worker of its own. */
export function workerPort(worker: Worker): HandPort {
  return {
    post: (message) => worker.postMessage(message),
    listen: (on) => worker.addEventListener('message', (e) => on(e.data)),
    ended: (on) => {
      worker.addEventListener('error', on);
      worker.addEventListener('messageerror', on);
    },
  };
}
