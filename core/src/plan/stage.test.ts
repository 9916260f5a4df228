import { outlineOfPaths, pass, planWith, wish } from '../../test/fixtures/outlines.ts';
import { grouped, leftOf, material, sceneOf } from '../../test/fixtures/scenes.ts';
import { RAY } from '../render/ray-kinds.ts';
import { SceneError } from '../scene/open.ts';
import type { Scene } from '../scene/scene.ts';
import { gatherOf } from './cost.ts';
import { momentOf, sampledLike, stage } from './stage.ts';
import { partsInScene, partsOfPicks, partsOfWho, rosterOf } from '../roster/roster.ts';
import type { Plan } from './plan.ts';

const OUTLINE = outlineOfPaths({ 'jars/lid': ['enamel'], 'jars/label': ['paper'], wall: ['enamel'] });

/** Parts in another order than the roster's, as a file may have them. */
function scene(): Scene {
  const strips = [...leftOf(-0.3), ...leftOf(0.4, -1.1), ...leftOf(1.2, -2)];
  const base = grouped(
    sceneOf(
      strips,
      [material({ name: 'paper' }), material({ name: 'enamel' })],
      (i) => [1, 1, 0, 0, 1, 1][i]!,
    ),
    [0, 0, 1, 1, 2, 2],
  );
  const paths = ['wall', 'jars/label', 'jars/lid'];
  return { ...base, objects: paths.map((path) => ({ path, name: path })) };
}
const staged = (plan: Plan, request: Parameters<typeof stage>[3] = { what: 'all' }) =>
  stage(scene(), plan, rosterOf(OUTLINE, plan), request);

describe('a scene made ready by a plan', () => {
  test('has the plan’s names, and its parts find their places in the roster', () => {
    const plan = planWith({
      objects: { 'jars/lid': { name: 'lid of the jar' } },
      materials: { paper: { name: 'label paper' } },
    });
    const { scene: ready, place } = staged(plan);
    expect(ready.objects.map((o) => o.name)).toEqual(['wall', 'jars/label', 'lid of the jar']);
    expect(ready.materials.map((m) => m.name)).toEqual(['label paper', 'enamel']);
    const roster = rosterOf(OUTLINE, plan);
    expect(place.map((p) => roster.objects[roster.parts[p]!.object]!.source)).toEqual([
      'wall',
      'jars/label',
      'jars/lid',
    ]);
    expect(
      partsInScene(
        { ...scene(), objects: [{ path: 'moon', name: 'moon' }, ...scene().objects.slice(1)] },
        roster,
      )[0],
    ).toBe(-1);
  });

  test('hides things from just the rays that the plan names', () => {
    const { scene: ready } = staged(
      planWith({
        objects: { wall: { hidden: ['camera', 'shadows'] }, 'jars/lid': { notSeenIn: ['wall', 'gone'] } },
      }),
    );
    const [wall, label, lid] = ready.objects;
    expect(wall!.visible! & RAY.camera).toBe(0);
    expect(wall!.visible! & RAY.shadow).toBe(0);
    expect(wall!.visible! & RAY.reflection).not.toBe(0);
    expect(label!.visible! & RAY.camera).not.toBe(0);
    expect(lid!.notSeenIn).toEqual([0]);
  });

  test('takes lens, size and sampling from the plan', () => {
    const render = {
      ...planWith({}).render,
      width: 320,
      height: 200,
      samples: 9,
      doneWhen: 'clean' as const,
      noise: 0.1,
      lensRadius: 0.2,
      focus: 3,
    };
    const plan = planWith({ render });
    expect(staged(plan).scene.camera).toMatchObject({ lensRadius: 0.2, focus: 3 });
    expect(staged(plan).settings).toMatchObject({
      width: 320,
      height: 200,
      samples: 9,
      noise: 0.1,
      light: true,
    });
    expect(staged(planWith({})).scene.camera.lensRadius).toBe(0);
    const time = planWith({ render: { ...render, doneWhen: 'time', minutes: 1.5 } });
    expect(staged(time).settings).toMatchObject({ samples: 65536, noise: 0, seconds: 90 });
    // What joins an earlier render must be sampled like it, everywhere.
    expect(staged(sampledLike(time, 47.6), { what: 'ids' }).settings).toMatchObject({
      light: false,
      samples: 48,
      noise: 0,
      seconds: 0,
    });
  });

  test('a patch takes samples as the plan has them, whatever ends other renders', () => {
    const plan = planWith({ render: { ...planWith({}).render, samples: 12, doneWhen: 'time' } });
    const who = [{ mode: 'with' as const, layer: 'objects', member: 'wall' }];
    expect(staged(plan, { what: 'patch', who }).settings).toMatchObject({ samples: 12, seconds: 0 });
  });

  test('says where the members of wishes are that come first', () => {
    const wishes = [
      wish('materials', 'enamel', { id: 'a', first: true }),
      wish('objects', 'jars/label', { id: 'b' }),
    ];
    const { settings, place } = staged(planWith({ wishes }));
    const seen = settings.first!.map((i) => place[i]!).sort();
    expect(seen).toEqual(partsOfPicks(wishes[0]!.who, rosterOf(OUTLINE, planWith({}))).sort());
    expect(seen.length).toBe(2);
    expect(staged(planWith({ wishes: [] })).settings.first).toBeUndefined();
  });

  test('makes no light passes when there is no light, and only what is on', () => {
    const plan = planWith({
      passes: [pass('cryptomatte'), pass('reflection'), { ...pass('depth'), on: false }],
    });
    expect(staged(plan).uses.map((u) => u.kind)).toEqual(['cryptomatte', 'reflection']);
    expect(staged(plan, { what: 'ids' }).uses.map((u) => u.kind)).toEqual(['cryptomatte']);
  });

  test('a new look is for the members alone, not for what shares their material', () => {
    const { scene: ready, settings } = staged(planWith({}), {
      what: 'patch',
      who: [{ mode: 'with', layer: 'objects', member: 'jars/lid' }],
      looks: { enamel: { colour: [0, 0, 1], roughness: 0.9 } },
    });
    const looks = ready.parts.map((p) => ready.materials[p.material]!.colour);
    expect(looks[2]).toEqual([0, 0, 1]);
    expect(looks[0]).not.toEqual([0, 0, 1]);
    expect(settings.patch).toEqual([2]);
    expect(() => staged(planWith({}), { what: 'patch', who: [] })).toThrow(SceneError);
  });
});

describe('what the renderer gathers', () => {
  test('is the sum of what the passes need, through-glass layers once each', () => {
    const seen = (way: string, id: string, by = 'object') => pass('through-glass', { way, by, depth: 1 }, id);
    const { gather, throughLayer } = gatherOf([
      pass('ambient-occlusion', { distance: 0.4 }),
      pass('normals'),
      seen('refraction', 'a'),
      seen('reflection', 'b'),
      // The same way told apart by material needs no samples of its own.
      seen('refraction', 'c', 'material'),
    ]);
    expect(gather).toMatchObject({
      ids: true,
      lightParts: false,
      surface: true,
      shadow: false,
      occlusion: 0.4,
    });
    expect(gather.through.map((t) => t.way)).toEqual(['refraction', 'reflection']);
    expect([...throughLayer]).toEqual([
      ['a', 0],
      ['b', 1],
      ['c', 0],
    ]);
    expect(gatherOf([]).gather).toMatchObject({ surface: false, occlusion: 0, through: [] });
  });

  test('frame 1 is the start of the animation', () => {
    const plan = planWith({
      render: { ...planWith({}).render, framesPerSecond: 25, shutter: 0.5, camera: 'rig/front' },
    });
    expect(momentOf(plan, 1)).toEqual({ time: 0, frameTime: 0.04, shutter: 0.5, camera: 'rig/front' });
    expect(momentOf(plan, 26).time).toBeCloseTo(1, 12);
    expect(momentOf(planWith({}), 1)).not.toHaveProperty('camera');
  });
});

describe('who a buffer shows', () => {
  const roster = rosterOf(
    OUTLINE,
    planWith({ objects: { jars: { number: 4 } }, materials: { enamel: { number: 2 } } }),
  );
  const names = (parts: number[]) => parts.map((p) => roster.objects[roster.parts[p]!.object]!.name);
  test.each([
    [{ of: 'object number' as const, number: 4 }, ['jars/lid', 'jars/label']],
    [{ of: 'material number' as const, number: 2 }, ['jars/lid', 'wall']],
    [{ of: 'object number' as const, number: 0 }, []],
    [{ of: 'objects' as const, members: ['jars'] }, ['jars/lid', 'jars/label']],
    [{ of: 'objects' as const, members: ['*l'] }, ['jars/label', 'wall']],
    [{ of: 'materials' as const, members: ['paper', 'none'] }, ['jars/label']],
  ])('%j', (who, expected) => {
    expect(names(partsOfWho(who, roster))).toEqual(expected);
  });
});
