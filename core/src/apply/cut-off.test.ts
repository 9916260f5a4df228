import { workingValues } from '../../bench/values.ts';
import { fileOf, openFiles } from '../../test/fixtures/frames.ts';
import { noMask, type Change, type StepUse } from '../changes/change.ts';
import { CORRECTIONS } from '../corrections/registry.ts';
import type { FieldValue } from '../fields/field.ts';
import { EDGE_STEPS } from '../masks/edge/registry.ts';
import type { OpenPicture } from '../version/open-picture.ts';
import { applyChanges } from './apply-changes.ts';

/**
 * A thing that the frame cuts off has no edge there. A beam that goes on beyond the frame, and the same beam in a wider
 * picture: the frame's pixels must be the same. Nothing changes along the beam, so that what lies beyond is no news.
 */
const [HEIGHT, FRAME, WIDE] = [70, 100, 300];
const within = (y: number) => Math.min(1, Math.max(0, Math.min(y - 18.5, 45.5 - y)));
const light = (y: number, k: number) => 0.1 + within(y) * (0.4 + 0.1 * k + 0.25 * Math.sin(y / 3));

async function beam(width: number): Promise<OpenPicture> {
  const of = (at: (y: number) => number) => (p: number) => at(Math.floor(p / width));
  const picture = fileOf(
    {
      B: of((y) => light(y, 0)),
      G: of((y) => light(y, 1)),
      R: of((y) => light(y, 2)),
      'depth.Z': of((y) => 3 + y / 10),
    },
    { width, height: HEIGHT },
  );
  const mask = fileOf({ Y: of(within) }, { width, height: HEIGHT });
  const frame = await openFiles(
    { 'beam.exr': picture, 'beam_id_04.exr': mask },
    { roles: { id_04: { role: 'object-buffer', number: 4, name: 'beam' } } },
  );
  return frame.all();
}

let [frame, wide]: OpenPicture[] = [];
beforeAll(async () => {
  [frame, wide] = await Promise.all([beam(FRAME), beam(WIDE)]);
});

/** The largest difference between the frame and the same part of the wider picture, and how much was changed at all. */
async function compared(change: Partial<Change>): Promise<{ off: number; changed: number }> {
  const [layer] = frame!.layers;
  const listed: Change = {
    ...{ ...noMask(), id: 'c', words: '', on: true, done: false, plainEdges: true },
    who: [{ mode: 'with', layer: layer!.name, member: 'beam' }],
    corrections: [],
    ...change,
  };
  const [own, all] = await Promise.all(
    [frame!, wide!].map((open) =>
      applyChanges(open, [listed], {
        passes: { depth: [open.image.channels.find((c) => c.name === 'depth.Z')!.data as Float32Array] },
      }),
    ),
  );
  let [off, changed] = [0, 0];
  const left = (WIDE - FRAME) / 2;
  for (const k of ['r', 'g', 'b'] as const)
    for (let y = 0; y < HEIGHT; y++)
      for (let x = 0; x < FRAME; x++) {
        const value = own![k][y * FRAME + x]!;
        off = Math.max(off, Math.abs(value - all![k][y * WIDE + left + x]!));
        changed = Math.max(changed, Math.abs(value - frame!.planes[k][y * FRAME + x]!));
      }
  return { off, changed };
}
const use = (kind: string, values: Record<string, FieldValue>): StepUse => ({
  id: 's',
  kind,
  on: true,
  values,
});

/** Settings without which there is nothing to see here. */
const MORE: Record<string, Record<string, FieldValue>> = {
  defocus: { pass: 'depth', focus: 5, size: 9 },
  glow: { threshold: 0.3 },
};
const AREA = CORRECTIONS.filter((c) => c.works === 'area');
test.each(AREA.map((c) => [c.kind, c] as const))('%s', async (kind, { fields }) => {
  const { off, changed } = await compared({
    corrections: [use(kind, { ...workingValues(fields), ...MORE[kind] })],
  });
  expect(changed).toBeGreaterThan(0.003);
  expect(off).toBeLessThan(1e-5);
});

const exposure = use('exposure', { stops: 1 });
test.each(EDGE_STEPS.map((s) => [s.kind, s] as const))('%s', async (kind, { fields }) => {
  const edge = [use(kind, { ...workingValues(fields), ...MORE[kind] })];
  const { off, changed } = await compared({ edge, corrections: [exposure] });
  expect(changed).toBeGreaterThan(0.003);
  expect(off).toBeLessThan(1e-5);
});
