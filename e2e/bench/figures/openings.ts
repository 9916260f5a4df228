import { castOf, ChangeStack, openFrame, type ExrImage } from '@zesty-crow/core';
import { fileOf } from '../../../core/bench/frames.ts';
import { sizeOf } from './size.ts';
import { CHANGES } from './six-changes.ts';
import { quantile, type Opening, type Stage } from './stage.ts';

/** Milliseconds to the picture's own pixels, and until it can be picked from, by how often the demo is repeated. */
const GOALS: Record<number, [pixels: number, ready: number | undefined]> = {
  1: [1000, undefined],
  2: [1500, 3000],
  4: [4000, 8000],
};

/** Pixels that a mask of each change covers, in one picture. */
async function maskedPixels(picture: ExrImage): Promise<number> {
  const bytes = fileOf(picture, 'zip');
  const frame = await openFrame(
    [{ role: 'picture', name: 'demo.exr', frame: null }],
    undefined,
    async () => bytes,
  );
  const cast = await Promise.all(frame.layers.map(async (l) => castOf(l, await frame.index(l))));
  const stack = new ChangeStack(await frame.picture(), cast);
  stack.update(CHANGES);
  let covered = 0;
  for (const { id } of CHANGES)
    for (let tile = 0; tile < stack.tileCount; tile++)
      for (const c of stack.mask(id)!.tile(tile) ?? []) if (c > 0) covered++;
  return covered;
}

/**
 * Opening a shot, cold and warm, dragging over six changes, and memory of the page.
 * @param times how often the picture is repeated each way
 */
export async function openingFigures(stage: Stage, times: number): Promise<void> {
  const { bench } = stage;
  const [pixels, ready] = GOALS[times] ?? [Infinity, undefined];
  const cold = await stage.open();
  const warm: Opening[] = [];
  for (let i = 0; i < bench.openings; i++) warm.push(await stage.open());
  const middle = (pick: (o: Opening) => number) => quantile(warm.map(pick), 0.5);
  const against = (at: number) => `navigation, warm; cold ${at.toFixed(0)}`;
  stage.tellMs(
    'own pixels',
    middle((o) => o.drawn),
    against(cold.drawn),
    pixels,
  );
  stage.tellMs(
    'ready to pick',
    middle((o) => o.ready),
    against(cold.ready),
    ready,
  );
  const long = Math.max(0, ...warm.flatMap((o) => o.long.filter(([t]) => t > o.first).map(([, d]) => d)));
  stage.tellMs('longest task after first paint', long, `${bench.openings} openings`, 100);
  await stage.driver.manage().setTimeouts({ script: 180_000 });
  const { first, all } = await stage.drag(bench.drag, 'Hue', 3);
  const median = (steps: number[]) =>
    `input event, ${steps.length} steps; median ${quantile(steps, 0.5).toFixed(0)}`;
  stage.tellMs('slider, first new pixels, p95', quantile(first, 0.95), median(first), 50);
  stage.tellMs('slider, whole change, p95', quantile(all, 0.95), median(all), 100);
  if (bench.memory) await memoryFigures(stage, times);
}

async function memoryFigures(stage: Stage, times: number): Promise<void> {
  const { picture } = stage.bench;
  const memory = await stage.memory();
  await stage.put([]);
  await stage.open();
  const bare = await stage.memory();
  const { width, height } = sizeOf(picture);
  const megabytes = (bytes: number) => `${(bytes / 2 ** 20).toFixed(0)} MB`;
  stage.tell(
    stage.figure(
      'memory of the page',
      memory / (width * height * times * times),
      'B/pixel',
      `${megabytes(memory)}, six changes`,
    ),
    stage.figure(
      'memory of a masked pixel and change',
      (memory - bare) / ((await maskedPixels(picture)) * times * times),
      'B',
      `${megabytes(bare)} without changes`,
      16,
    ),
  );
}
