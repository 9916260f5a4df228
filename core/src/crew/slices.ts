/** Time that a thread works before it looks at its messages, in milliseconds. */
const SLICE = 10;

/** Lets waiting messages in. A message channel is not slowed down in the background as timers are. */
export const breathe = (): Promise<void> =>
  new Promise((resolve) => {
    const { port1, port2 } = new MessageChannel();
    port1.onmessage = () => {
      port1.close();
      resolve();
    };
    port2.postMessage(null);
  });

/** Calls `step` until it returns false, breathing between slices of time. */
export async function inSlices(step: () => boolean, between?: () => void): Promise<void> {
  for (;;) {
    const until = performance.now() + SLICE;
    do if (!step()) return;
    while (performance.now() < until);
    between?.();
    await breathe();
  }
}
