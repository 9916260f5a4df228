import { Scheduler, type WorkSource } from './scheduler.ts';
import { tileOrder } from './tile-order.ts';

/** A source of so many pieces, which notes its name at each. */
const pieces = (name: string, count: () => number, done: (name: string) => void): WorkSource => {
  return () => {
    if (count() <= 0) return false;
    done(name);
    return true;
  };
};

function schedulerOf(
  sources: readonly WorkSource[],
  more: Partial<ConstructorParameters<typeof Scheduler>[1]> = {},
) {
  let rested = 0;
  const failures: unknown[] = [];
  const scheduler = new Scheduler(sources, {
    take: () => undefined,
    waiting: () => false,
    rested: () => rested++,
    failed: (error) => failures.push(error),
    ...more,
  });
  return { scheduler, failures, rested: () => rested };
}

test('work goes by rank: what matters more goes first, even if it comes in between', async () => {
  const log: string[] = [];
  const left: Record<string, number> = { urgent: 1, later: 2 };
  const source = (name: string) =>
    pieces(
      name,
      () => left[name]!,
      () => {
        left[name]!--;
        log.push(name);
        if (log.length === 2) left['urgent'] = 1;
      },
    );
  const { scheduler, rested } = schedulerOf([source('urgent'), source('later')]);
  scheduler.wake();
  expect(scheduler.busy).toBe(true);
  await scheduler.rest();
  expect(log).toEqual(['urgent', 'later', 'urgent', 'later']);
  expect(rested()).toBe(1);
});

test('what has come is taken between pieces, and waking twice does not do work twice', async () => {
  let [taken, done, left] = [0, 0, 3];
  const { scheduler } = schedulerOf(
    [
      pieces(
        'a',
        () => left,
        () => (done++, left--),
      ),
    ],
    { take: () => taken++ },
  );
  scheduler.wake();
  scheduler.wake();
  await scheduler.rest();
  expect([done, taken]).toEqual([3, 4]);
});

test('what comes just as nothing was left is done, too', async () => {
  let late = false;
  let left = 1;
  const { scheduler, rested } = schedulerOf(
    [
      pieces(
        'a',
        () => left,
        () => left--,
      ),
    ],
    {
      waiting: () => !late,
      take() {
        // On the second round.
        if (left === 0 && !late) {
          late = true;
          left = 1;
        }
      },
    },
  );
  scheduler.wake();
  await scheduler.rest();
  expect([left, rested()]).toEqual([0, 1]);
});

test('a failure is told once and ends the round; work goes on when it is woken again', async () => {
  let broken = true;
  let left = 1;
  const { scheduler, failures } = schedulerOf([
    () => {
      if (broken) throw new Error('no room');
      return left-- > 0;
    },
  ]);
  scheduler.wake();
  await scheduler.rest();
  expect(failures).toEqual([new Error('no room')]);
  broken = false;
  scheduler.wake();
  await scheduler.rest();
  expect([failures.length, left]).toEqual([1, -1]);
});

test('tiles on the screen come first, from its middle outwards', () => {
  // Eight by four tiles of 64 pixels; seen are the second and third columns of the second row.
  const due = new Uint8Array(32).fill(1);
  due[9] = 0;
  const order = tileOrder(due, 8, { x0: 64, y0: 64, x1: 192, y1: 128 });
  expect(order[0]).toBe(10);
  expect(order).toHaveLength(31);
  expect(new Set(order).has(9)).toBe(false);
  // Without a screen they come as they are numbered.
  expect(tileOrder(due, 8, undefined).slice(0, 3)).toEqual([0, 1, 2]);
});
