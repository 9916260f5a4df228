import fc from 'fast-check';
import { openFrame } from '../version/open-frame.ts';
import { emptyPlan } from '../plan/plan.ts';
import { places } from '../parcels/kinds/places.ts';
import { settingsOfParcel } from '../parcels/registry.ts';
import type { FieldValues } from '../fields/field.ts';
import type { MadeFile } from '../parcels/kind.ts';
import { openScene, type SceneFile } from './open.ts';
import { compose, poseAt } from './pose.ts';
import { frozenBytes } from '../../test/fixtures/frozen.ts';
import { PLAIN_LENS, tracks } from '../../test/fixtures/tracks.ts';
import { seenAt } from './tracks.ts';
import { turnOf, writeTracks } from './write-tracks.ts';

const number = fc.double({ min: -3, max: 3, noNaN: true });
const turn = fc
  .tuple(number, number, number, number)
  .filter((q) => Math.hypot(...q) > 0.1)
  .map((q) => q.map((c) => c / Math.hypot(...q)));
const pose = fc.tuple(fc.tuple(number, number, number), turn);

test('a matrix gives the turn that it was made of', () => {
  fc.assert(
    fc.property(turn, (q) => {
      const found = turnOf(compose([0, 0, 0], q, [1, 2, 3]));
      // q and -q are the same turn.
      expect(Math.abs(found.reduce((sum, c, k) => sum + c * q[k]!, 0))).toBeCloseTo(1, 9);
    }),
  );
});

test('tracks read again as glTF are at each moment where they were', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.tuple(pose, pose, pose), { minLength: 1, maxLength: 6 }),
      async (moments) => {
        const at = (i: number) => moments.map((m) => compose(m[i]![0], m[i]![1], [1, 1, 1]));
        const made = tracks({ camera: at(0), light: at(1), object: at(2) });
        const times = moments.map((_, i) => i / 24);
        const { document, nodes } = await openScene(await writeTracks(made, times, { aspect: 16 / 9 }));
        expect(nodes.map((n) => n.path)).toEqual(['eye', 'lamp', 'jar']);
        const list = nodes.map((n) => n.node);
        moments.forEach((_, i) => {
          const { world } = poseAt(document, list, Math.fround(times[i]!));
          [at(0), at(1), at(2)].forEach((wanted, k) =>
            // The glTF library leaves out what moves or turns a node by less than 1e-5.
            world.get(list[k]!)!.forEach((v, c) => expect(v).toBeCloseTo(wanted[i]![c]!, 4)),
          );
        });
        expect(list[0]!.getCamera()!.getYFov()).toBeCloseTo(PLAIN_LENS.yfov, 6);
      },
    ),
    {
      numRuns: 30,
      examples: [
        [
          [
            [
              [
                [0, 0, 0],
                [0, 1, 0, 0],
              ],
              [
                [-5e-6, 0, 0],
                [0, 0, 0, -1],
              ],
              [
                [9e-6, -9e-6, 0],
                [0, 9e-6, 0, 1],
              ],
            ],
          ],
        ],
      ],
    },
  );
});

test('what lies on the axis is seen in the middle, at the edge what the field of view says, and nothing behind', () => {
  const still = compose([0, 0, 0], [0, 0, 0, 1], [1, 1, 1]);
  const size = { width: 200, height: 100 };
  const edge = Math.tan(PLAIN_LENS.yfov / 2) * 4;
  expect(seenAt(PLAIN_LENS, still, [0, 0, -4], size)).toEqual({ x: 100, y: 50, depth: 4 });
  expect(seenAt(PLAIN_LENS, still, [2 * edge, edge, -4], size)!.x).toBeCloseTo(200, 9);
  expect(seenAt(PLAIN_LENS, still, [2 * edge, edge, -4], size)!.y).toBeCloseTo(0, 9);
  expect(seenAt(PLAIN_LENS, still, [0, 0, 4], size)).toBeUndefined();
});

describe('places of the bee flight', () => {
  let file: SceneFile;
  beforeAll(async () => {
    file = await openScene(frozenBytes('bee_flight.glb'));
  });
  const plan = { ...emptyPlan(), render: { ...emptyPlan().render, shutter: 0.5 } };
  const frameAt = (n: number) => {
    const name = `bee_flight_v1.${String(n).padStart(4, '0')}.exr`;
    return openFrame([{ role: 'picture', name, frame: n }], n, () => Promise.resolve(frozenBytes(name)));
  };
  async function make(settings: FieldValues, withScene: boolean, notes: string[] = []): Promise<MadeFile[]> {
    const frame = await frameAt(1);
    const request = {
      list: { format: 'zesty-crow/changes', version: 7, changes: [], variants: [] } as never,
      settings: settingsOfParcel({ kind: 'places', settings }),
      ...{ shot: 'Flight', version: 1, frame: 1, frames: [1, 3, 5] },
    };
    return places.make({ frame, at: frameAt, open: () => frame.all() }, request, {
      paper: () => Promise.reject(new Error('no paper')),
      onNote: (note) => notes.push(note),
      readScene: () => Promise.resolve(withScene ? { file, plan } : undefined),
    });
  }
  interface Told {
    places: {
      name: string;
      seen: ({ x: number; y: number; box: number[]; area: number } | null)[];
      middle?: number[][];
    }[];
    camera?: { matrices: number[][] };
  }
  const told = (f: MadeFile[]) => JSON.parse(new TextDecoder().decode(f[0]!.bytes)) as Told;

  test('are in the ID pass where the scene’s camera sees them, also what flies', async () => {
    const files = await make({ members: 'bees/bee_flying, jars/*/lid' }, true);
    const { places: found, camera } = told(files);
    expect(found.map((p) => p.name)).toEqual(['bees/bee_flying', 'jars/jar_1/lid', 'jars/jar_2/lid']);
    for (const { seen, middle } of found)
      seen.forEach((sight, i) => {
        // The middle of what is seen of a thing and the middle of its box differ by little for what is small.
        expect(Math.hypot(sight!.x - middle![i]![0]!, sight!.y - middle![i]![1]!)).toBeLessThan(4 / 3);
        const [left, top, width, height] = sight!.box as [number, number, number, number];
        expect(sight!.x > left && sight!.x < left + width && sight!.y > top && sight!.y < top + height).toBe(
          true,
        );
      });
    expect(files.map((f) => f.ending)).toEqual(['.json', '.glb']);
    expect(await files[1]!.verify()).toBe('');
    const { document, nodes } = await openScene(files[1]!.bytes);
    const { world } = poseAt(
      document,
      nodes.map((n) => n.node),
      Math.fround(4 / 24),
    );
    const eye = nodes.find((n) => n.node.getCamera())!;
    world.get(eye.node)!.forEach((v, c) => expect(v).toBeCloseTo(camera!.matrices[2]![c]!, 5));
  }, 60_000);

  test('are in the picture alone where there is no scene, and that is told', async () => {
    const notes: string[] = [];
    const files = await make({ members: 'jars/*/lid' }, false, notes);
    expect(files.map((f) => f.ending)).toEqual(['.json']);
    expect(told(files).camera).toBeUndefined();
    expect(told(files).places[0]!.seen).toHaveLength(3);
    expect(notes.join()).toContain('no scene');
    await expect(make({ members: 'jars/*/lid', json: false }, false)).rejects.toThrow('Choose JSON');
    await expect(make({ members: 'teapot' }, true)).rejects.toThrow('nobody called teapot');
    await expect(make({ layer: 'Teapots' }, true)).rejects.toThrow('no ID layer Teapots');
  }, 60_000);
});
