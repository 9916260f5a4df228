// A lane's process for tests: its jobs do what their kind says, the bad ones too.
const say = (message) => process.send(message);
const held = [];
const JOBS = {
  good: (job) => say({ say: 'done', id: job.id, message: 'Done', details: { twice: job.input.n * 2 } }),
  tells(job) {
    say({ say: 'progress', id: job.id, done: 0.5, message: 'half' });
    say({ say: 'look', id: job.id, png: Uint8Array.of(1, 2, 3) });
    say({ say: 'failed', id: job.id, message: 'It cannot be done.' });
  },
  crashes: () => process.exit(3),
  blocks() {
    for (;;);
  },
  waits: () => undefined,
  grows() {
    const more = () => {
      // Typed arrays lie outside the heap; written to, they are resident.
      held.push(new Uint8Array(32 * 2 ** 20).fill(1));
      setTimeout(more, 5);
    };
    more();
  },
};
let current;
process.on('message', (order) => {
  if (order.do === 'run') JOBS[(current = order.job).kind](order.job);
  else if (order.do === 'cancel' && current.kind === 'waits')
    say({ say: 'failed', id: current.id, message: 'Cancelled' });
});
process.on('disconnect', () => process.exit(0));
say({ say: 'ready' });
