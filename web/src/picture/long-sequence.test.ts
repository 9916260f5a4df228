import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';
import { fileOf } from '../../../core/test/fixtures/frames.ts';
import { runs } from '../../../core/test/runs.ts';
import { noMask, type ListedChange } from '@zesty-crow/core';
import { file, sessionOf, view } from '../../test/session.ts';

/** A long sequence, computed frame by frame: what one frame needed is let go before the next. */
setFlagsFromString('--expose-gc');
const collect = runInNewContext('gc') as () => void;
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

test('memory after many frames is that after a few', async () => {
  // A tenth of five hundred; all of them in a campaign.
  const count = runs(50);
  const names = Array.from({ length: count }, (_, i) => `f.${String(i + 1).padStart(4, '0')}.exr`);
  const read = { 'first.exr': frameOf(0) } as Record<string, Uint8Array>;
  const made = sessionOf(read, {
    read: ({ name }) => Promise.resolve(read[name] ?? frameOf(names.indexOf(name))),
  });
  made.session.show(view({ changes: [everywhere], openChange: 'all' }));
  await made.session.open({ files: [file('first.exr')] }, undefined, made.events);
  await made.rest();
  const version = { files: names.map((name, i) => file(name, i + 1)) };
  const used: number[] = [];
  for (let frame = 1; frame <= count; frame++) {
    const state = await made.session.ask({
      ask: 'frameState',
      version,
      frame,
      changes: [everywhere],
      side: 96,
    });
    expect(state!.parts['all']!.area).toBeCloseTo(100, 3);
    collect();
    // What array buffers hold is part of what is external.
    const { heapUsed, external } = process.memoryUsage();
    used.push(heapUsed + external);
  }
  // Buffers are let go a while after nobody holds them: the least of several frames is what is held.
  const few = Math.min(...used.slice(5, 15));
  expect(Math.min(...used.slice(-10)) / few).toBeLessThan(1.1);
}, 600_000);
