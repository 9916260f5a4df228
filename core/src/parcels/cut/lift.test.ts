import { castOf } from '../../cast/cast.ts';
import { noMask } from '../../changes/change.ts';
import type { ListedChange } from '../../changes/listed.ts';
import type { OpenPicture } from '../../version/open-picture.ts';
import { MIXED_SCENES, mixedPicture, type MixedPicture } from '../../../test/fixtures/mixed-scenes.ts';
import { Lift, membersChange } from './lift.ts';

const opened = ({ planes, index }: MixedPicture): OpenPicture =>
  ({
    ...{ planes, width: planes.width, height: planes.height, beauty: {}, passes: [] },
    image: { header: {}, channels: [] },
    cast: [castOf({ name: 'things', manifest: { nameOf: new Map() } as never }, index)],
  }) as unknown as OpenPicture;
const darker = (who: ListedChange['who']): ListedChange => ({
  ...noMask(),
  ...{ id: 'd', words: '', on: true, done: false, plainEdges: false, who },
  corrections: [{ id: 'c', kind: 'exposure', on: true, values: { stops: -1 } }],
});

describe.each(Object.keys(MIXED_SCENES))('of %s', (name) => {
  const made = mixedPicture(MIXED_SCENES[name]!);
  const open = opened(made);
  const [layer] = open.cast;
  const members = layer!.members.filter((m) => made.masked.has(m.id));
  const part = membersChange(layer!, members);

  test.each([false, true])('a part has the light that is its own; halved by a change: %s', async (half) => {
    const lift = await Lift.of(open, half ? [darker(part.who)] : [], {});
    const [clean, plain] = [await lift.part(part, true), await lift.part(part, false)];
    let [off, offPlain, mixed] = [0, 0, 0];
    made.parts.forEach((own, p) => {
      const shown = [...own].filter(([id]) => made.masked.has(id));
      const truth = shown.reduce((sum, [, { light }]) => sum + light[1]!, 0) * (half ? 0.5 : 1);
      if (clean.cover[p]! === 0) return;
      if (clean.cover[p]! > 0.999) return expect(clean.g[p]! / truth).toBeCloseTo(1, 3);
      mixed++;
      off += Math.abs(clean.g[p]! - truth);
      offPlain += Math.abs(plain.g[p]! - truth);
    });
    expect(mixed).toBeGreaterThan(20);
    // Through a veil half of everything shows half of something else: there is nothing to tell the two apart by.
    expect(off).toBeLessThan((name === 'a veil' ? 1.5 : 0.65) * offPlain);
  });

  test('all parts together are the picture', async () => {
    const lift = await Lift.of(open, [], {});
    const sum = new Float64Array(made.planes.r.length);
    for (const m of layer!.members) {
      const { r } = await lift.part(membersChange(layer!, [m]), true);
      r.forEach((v, p) => (sum[p]! += v));
    }
    let worst = 0;
    sum.forEach(
      (v, p) => (worst = Math.max(worst, Math.abs(v - made.planes.r[p]!) / (0.1 + made.planes.r[p]!))),
    );
    expect(worst).toBeLessThan(2e-3);
  });
});
