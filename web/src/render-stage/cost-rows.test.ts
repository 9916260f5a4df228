import { emptyPlan, RENDERER, rosterOf, type Measured } from '@zesty-crow/core';
import type { Render } from '@zesty-crow/server/contract';
import { costRows } from './cost-rows.ts';

const measured = (seconds: number): Measured & { frame: number } => ({
  frame: 1,
  width: 960,
  height: 540,
  samples: 64,
  idsOnly: false,
  threads: 2,
  renderer: RENDERER,
  seconds,
  bytes: 100,
  passes: [{ id: 'picture', kind: 'picture', title: 'Picture', channels: 4, seconds, bytes: 100 }],
});
const render = (number: number, frames: Render['measured']): Render => ({
  versionId: String(number),
  number,
  state: 'ready',
  unfinished: null,
  snapshot: 0,
  problem: null,
  created: '',
  request: { what: 'all' },
  plan: emptyPlan(),
  measured: frames,
  sums: 0,
  jobs: [],
});

test('a render is compared with what was known before it, and frames are averaged', () => {
  const roster = rosterOf(
    { nodes: [], materials: [], cameras: [], seconds: 0, triangles: 0, findings: [] },
    emptyPlan(),
  );
  const first = render(1, [measured(50)]);
  const second = render(2, [measured(70), measured(90)]);
  const [row] = costRows(second, [second, first], roster);
  expect(row!.real.seconds).toBeCloseTo(80, 6);
  expect(row!.estimate.seconds).toBeCloseTo(50, 6);
  expect(costRows(render(3, []), [second, first], roster)).toEqual([]);
});
