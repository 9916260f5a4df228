import { EDGE_STEPS } from '@zesty-crow/core';
import { workingValues } from '../../../core/bench/values.ts';
import { CLICKS } from './page-scripts.ts';
import { CHANGES } from './six-changes.ts';
import { quantile, type Stage } from './stage.ts';

/** Places on the hive, the table, a jar and the smoker, as shares of the picture. */
const PLACES = [0.2, 0.22, 0.25, 0.45, 0.56, 0.8].flatMap((x) => [
  [x, 0.41],
  [x, 0.59],
]);

/** Isolating: a click until its mask is shown, an edge step's value, and clean edges in the background. */
export async function maskFigures(stage: Stage): Promise<void> {
  const { bench, driver } = stage;
  await driver.manage().setTimeouts({ script: 180_000 });
  await stage.idle();
  await stage.put(CHANGES);
  const { ready } = await stage.open();
  await driver.sleep(bench.rest + 1000);
  const settled = await driver.executeScript<number>('return window.bench.settled');
  stage.tellMs('clean edges of six changes, after all else', settled - ready, 'opening', 1000);
  // A change that does nothing yet is what is picked for.
  await stage.put([...CHANGES.slice(1), { ...CHANGES[0]!, id: 'empty', who: [], corrections: [] }]);
  await stage.open();
  await driver.executeScript(`[...document.querySelectorAll('li.card .members')].at(-1).dispatchEvent(
    new PointerEvent('pointerdown', { bubbles: true }));`);
  await driver.sleep(bench.rest);
  const twice = [...PLACES, ...PLACES].slice(0, bench.clicks);
  const clicks = (await driver.executeAsyncScript<number[]>(CLICKS, twice, bench.rest / 4)).slice(2);
  await stage.saved();
  stage.tellMs(
    'click until the mask is shown, p95',
    quantile(clicks, 0.95),
    `pointer event, ${clicks.length} clicks; median ${quantile(clicks, 0.5).toFixed(0)}`,
    60,
  );
  for (const { kind, fields, label } of EDGE_STEPS.slice(0, bench.kinds)) {
    const edge = [{ id: 'e', kind, on: true, values: workingValues(fields) }];
    await stage.put([{ ...CHANGES[0]!, edge }, ...CHANGES.slice(1)]);
    await stage.open();
    await driver.sleep(bench.rest / 2);
    const { all } = await stage.drag(bench.steps, 'Amount', -3);
    await stage.saved();
    stage.tellMs(
      `edge step ${label}, p95`,
      quantile(all, 0.95),
      `input event, ${all.length} steps; median ${quantile(all, 0.5).toFixed(0)}`,
      150,
    );
  }
}
