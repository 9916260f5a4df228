import { CORRECTIONS, type StepUse } from '@zesty-crow/core';
import { workingValues } from '../../../core/bench/values.ts';
import { UNDO } from './page-scripts.ts';
import { CHANGES } from './six-changes.ts';
import { quantile, type Stage } from './stage.ts';

/** The first of six changes, of a tenth of the frame, with each correction, whose amount is dragged. */
const stepsToMeasure = (most: number): [label: string, use: StepUse][] =>
  CORRECTIONS.filter(
    (c) =>
      (c.works === 'pixel' || c.kind === 'blur') && !c.fields.some((f) => f.kind === 'pass' && !f.optional),
  )
    .slice(0, most)
    .map((c) => {
      const values = { ...workingValues(c.fields), ...(c.kind === 'blur' ? { size: 20 } : {}) };
      const use = { id: 'c', kind: c.kind, on: true, values };
      return [c.kind === 'blur' ? 'Blur of 20 px' : c.label, use];
    });

/** A drag of each correction's amount, and taking it back. */
export async function correctionFigures(stage: Stage): Promise<void> {
  const { bench } = stage;
  const undone: number[] = [];
  for (const [label, use] of stepsToMeasure(bench.kinds)) {
    await stage.put([{ ...CHANGES[0]!, corrections: [use] }, ...CHANGES.slice(1)]);
    await stage.open();
    const { all } = await stage.drag(bench.steps, 'Amount', -3);
    // The drag is saved as one step of the history; the next list is put over that.
    await stage.saved();
    stage.tellMs(
      `${label}, whole change, p95`,
      quantile(all, 0.95),
      `input event, ${all.length} steps; median ${quantile(all, 0.5).toFixed(0)}`,
      use.kind === 'blur' ? 200 : 100,
    );
    undone.push(await stage.driver.executeAsyncScript<number>(UNDO));
  }
  const against = `key, ${undone.length} times; median ${quantile(undone, 0.5).toFixed(0)}`;
  stage.tellMs('undo, whole picture, p95', quantile(undone, 0.95), against, 100);
}
