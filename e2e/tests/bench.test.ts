import { readExr } from '@zesty-crow/core/formats/exr';
import type { Figure } from '../../core/bench/report.ts';
import { frozenBytes } from '../../core/test/fixtures/frozen.ts';
import { browserFigures } from '../bench/browser-figures.ts';
import type { Application } from '../harness/application.ts';
import { START_MS, startEmpty } from '../harness/database.ts';

/** The benchmark of the browser at a hundredth of its size: it must measure. How fast is not asked here. */
let application: Application;
beforeAll(async () => {
  application = await startEmpty();
}, START_MS);
afterAll(() => application?.stop());

test('openings, drags, corrections, masks and the wall are measured, each told when it is known', async () => {
  const figures: Figure[] = [];
  const picture = readExr(frozenBytes('honey_table_v1.exr'));
  const size = {
    sizes: [1],
    detail: 1,
    openings: 1,
    drag: 2,
    steps: 2,
    kinds: 1,
    variants: 2,
    rest: 200,
    clicks: 4,
    memory: false,
  };
  await browserFigures((...told) => void figures.push(...told), { ...size, picture }, application);
  for (const f of figures) expect([f.name, Number.isFinite(f.value)]).toEqual([f.name, true]);
  expect(figures.map((f) => f.name.replace('320x180: ', ''))).toEqual(
    expect.arrayContaining([
      ...['own pixels', 'ready to pick', 'slider, whole change, p95'],
      ...['Exposure, whole change, p95', 'undo, whole picture, p95', 'click until the mask is shown, p95'],
      ...['wall of variants, all', 'clean edges of six changes, after all else'],
    ]),
  );
}, 120_000);
