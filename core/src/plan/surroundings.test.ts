import { smallScene } from '../../test/fixtures/small-scene.ts';
import { nodeZlib } from '../../node/zlib.ts';
import { writeExr } from '../formats/exr/write.ts';
import { openScene } from '../scene/open.ts';
import { channelOf } from '../passes/pass.ts';
import { emptyPlan, type Plan } from './plan.ts';
import { surroundingsOf } from './surroundings.ts';

/** A picture of two pixels, left and right. */
const picture = (channels: Record<string, [number, number]>) =>
  writeExr(
    {
      dataWindow: { xMin: 0, yMin: 0, xMax: 1, yMax: 0 },
      channels: Object.entries(channels).map(([name, values]) =>
        channelOf(name, Float32Array.from(values), 'float'),
      ),
    },
    { zlib: nodeZlib },
  );
const plan = (more: Partial<Plan['render']>): Plan => ({
  ...emptyPlan(),
  render: { ...emptyPlan().render, ...more },
});
const sceneWith = async (files: Record<string, Uint8Array>) =>
  openScene(await smallScene(), new Map(Object.entries(files)));

test('are the picture that the plan names, turned and brightened', async () => {
  const file = await sceneWith({ 'meadow.exr': picture({ R: [1, 4], G: [2, 5], B: [3, 6] }) });
  const found = surroundingsOf(
    file,
    plan({ surroundings: 'meadow.exr', surroundingsTurn: 90, surroundingsStops: -1 }),
  )!;
  expect([found.width, found.height]).toEqual([2, 1]);
  expect([...found.data]).toEqual([1, 2, 3, 4, 5, 6]);
  expect(found.turn).toBeCloseTo(Math.PI / 2, 10);
  expect(found.gain).toBe(0.5);
  expect(surroundingsOf(file, plan({}))).toBeUndefined();
});

test('hold no light that is negative or no number', async () => {
  const file = await sceneWith({ 'meadow.exr': picture({ R: [-1, NaN], G: [Infinity, 2], B: [3, 4] }) });
  const { data } = surroundingsOf(file, plan({ surroundings: 'meadow.exr' }))!;
  expect([...data]).toEqual([0, 0, 3, 0, 2, 4]);
});

test('that are missing, damaged or no picture say so', async () => {
  const file = await sceneWith({
    'depth.exr': picture({ Z: [1, 2] }),
    'broken.exr': picture({ R: [1, 2], G: [1, 2], B: [1, 2] }).slice(0, 60),
  });
  const read = (name: string) => () => surroundingsOf(file, plan({ surroundings: name }));
  expect(read('meadow.exr')).toThrow('"meadow.exr" is missing');
  expect(read('depth.exr')).toThrow('"depth.exr" holds no picture');
  expect(read('broken.exr')).toThrow('"broken.exr" cannot be read');
});
