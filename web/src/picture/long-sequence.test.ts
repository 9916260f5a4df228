import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';
import { fileOf } from '../../../core/test/fixtures/frames.ts';
import { scaled } from '../../../core/test/runs.ts';
import { noMask, type ListedChange } from '@zesty-crow/core';
import { file, sessionOf, view } from '../../test/session.ts';

/** A long sequence, computed frame by frame: what one frame needed is let go before the next. */
const SIZE = { width: 192, height: 108 };
const everywhere: ListedChange = {
  ...noMask(),
  ...{ id: 'all', words: '', on: true, done: false, plainEdges: true },
  who: [],
  edge: [{ id: 'e', kind: 'turn-round', on: true, values: {} }],
  corrections: [{ id: 'c', kind: 'exposure', on: true, values: { stops: 0.5 } }],
};
const frameOf = (n: number) => {
  const light = (p: number) => ((p + 7 * n) % 97) / 97;
  return fileOf({ R: light, G: light, B: (p) => light(p + 1) }, SIZE);
};

/** Asks for the frames one after the other; `after` is called with each. Returns how often each was read. */
async function goThrough(count: number, after: () => void = () => undefined): Promise<Map<string, number>> {
  const names = Array.from({ length: count }, (_, i) => `f.${String(i + 1).padStart(4, '0')}.exr`);
  const first = frameOf(0);
  const reads = new Map<string, number>();
  const made = sessionOf(
    {},
    {
      read: ({ name }) => {
        reads.set(name, (reads.get(name) ?? 0) + 1);
        return Promise.resolve(name === 'first.exr' ? first : frameOf(names.indexOf(name)));
      },
    },
  );
  made.session.show(view({ changes: [everywhere], openChange: 'all' }));
  await made.session.open({ files: [file('first.exr')] }, undefined, made.events);
  await made.rest();
  const version = { files: names.map((name, i) => file(name, i + 1)) };
  const stateOf = (frame: number) =>
    made.session.ask({ ask: 'frameState', version, frame, changes: [everywhere], side: 96 });
  for (let frame = 1; frame <= count; frame++) {
    expect((await stateOf(frame))!.parts['all']!.area).toBeCloseTo(100, 3);
    after();
  }
  // Nothing of an early frame was kept.
  await stateOf(1);
  return reads;
}

test('every frame is read when it is asked for, and none is kept', async () => {
  // A tenth of five hundred; all of them in a campaign.
  const reads = await goThrough(scaled(50));
  expect(reads.get('f.0001.exr')).toBe(2);
  expect([...reads.values()].filter((n) => n !== 1)).toEqual([2]);
}, 600_000);

// When memory is let go is the engine's affair: that is watched over many frames only.
(process.env['CAMPAIGN'] ? test : test.skip)(
  'memory after many frames is that after a few',
  async () => {
    setFlagsFromString('--expose-gc');
    const collect = runInNewContext('gc') as () => void;
    const used: number[] = [];
    await goThrough(scaled(50), () => {
      collect();
      // What array buffers hold is part of what is external.
      const { heapUsed, external } = process.memoryUsage();
      used.push(heapUsed + external);
    });
    const few = Math.min(...used.slice(5, 15));
    expect(Math.min(...used.slice(-10)) / few).toBeLessThan(1.1);
  },
  600_000,
);
