import type { Variant } from '@zesty-crow/core';
import { WALL } from './page-scripts.ts';
import { CHANGES } from './six-changes.ts';
import type { Stage } from './stage.ts';

/** Variants of the lids in other hues. */
function lidsInHues(count: number): Variant[] {
  const [, lids] = CHANGES;
  return Array.from({ length: count }, (_, i) => ({
    id: `variant-${i}`,
    name: `Lids ${i + 1}`,
    sets: [
      {
        change: lids!.id,
        step: lids!.corrections[0]!.id,
        kind: 'hue-saturation-lightness',
        values: { hue: 15 * i - 180 },
      },
    ],
  }));
}

/** A wall of variants over six changes; what memory it leaves behind. */
export async function wallFigures(stage: Stage): Promise<void> {
  const { bench, driver } = stage;
  await stage.put(CHANGES, lidsInHues(bench.variants));
  await stage.open();
  const before = await stage.memory();
  const [first, all] = await driver.executeAsyncScript<[number, number]>(WALL);
  const added = (await stage.memory()) - before;
  const against = `key Y, ${bench.variants} variants and the list itself`;
  stage.tellMs('wall of variants, first row', first, against, 2000);
  stage.tellMs('wall of variants, all', all, against, 12_000);
  stage.tell(
    stage.figure(
      'memory that the wall adds',
      added / 2 ** 20,
      'MB',
      `${(before / 2 ** 20).toFixed(0)} MB before`,
    ),
  );
}
