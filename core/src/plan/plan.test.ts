import fc from 'fast-check';
import { outlineOfPaths, pass, planWith, TABLE, wish } from '../../test/fixtures/outlines.ts';
import { PASSES } from '../passes/registry.ts';
import { checkPlan } from './check.ts';
import { cheapestFor, proposePasses } from './propose.ts';
import { emptyPlan, type Plan } from './plan.ts';
import { fileName, namingFault } from './naming.ts';
import { judgeWish, picksOfWish } from './wishes.ts';
import { parsePlan } from './parse.ts';

import { partsOfPicks, rosterOf } from '../roster/roster.ts';
import { planCost, RENDERER, type Measured } from './cost.ts';

const numbers = (plan: Plan, what: 'objects' | 'materials' = 'objects') =>
  Object.fromEntries(rosterOf(TABLE, plan)[what].map((e) => [e.source, e.number]));
const codes = (plan: Plan, outline = TABLE) => checkPlan(plan, rosterOf(outline, plan)).map((f) => f.code);

describe('numbers', () => {
  test('come by hand, from a group with exceptions, and by rule for what has none', () => {
    const plan = planWith({
      objects: {
        jars: { number: 4 },
        'jars/jar_2': { number: 5 },
        'jars/jar_1/lid': { number: 9 },
        'jars/jar_2/lid': { number: 0 },
      },
      rules: [
        { what: 'objects', pattern: 'bees/*', number: 20, countUp: true },
        { what: 'objects', pattern: '*', number: 1, countUp: false },
        { what: 'materials', pattern: 'b*', number: 7, countUp: true },
      ],
    });
    expect(numbers(plan)).toEqual({
      'jars/jar_1/glass': 4,
      'jars/jar_1/lid': 9,
      'jars/jar_2/glass': 5,
      'jars/jar_2/lid': 0,
      'smoker/can': 1,
      'smoker/bellows': 1,
      dipper: 1,
      'bees/bee_1': 20,
      'bees/bee_2': 21,
    });
    expect(numbers(plan, 'materials')).toMatchObject({ brass: 7, beech: 8, glass: 0 });
  });

  test('that were given apart and meet are a clash; one number for a group is not', () => {
    expect(codes(planWith({ objects: { jars: { number: 4 } } }))).not.toContain('number-clash');
    expect(codes(planWith({ objects: { dipper: { number: 4 }, 'smoker/can': { number: 4 } } }))).toContain(
      'number-clash',
    );
    expect(codes(planWith({ objects: { jars: { number: 4 }, dipper: { number: 4 } } }))).toContain(
      'number-clash',
    );
  });
});

describe('names', () => {
  test('can be corrected, and doubles, empty and meaningless ones are found', () => {
    const renamed = planWith({ objects: { dipper: { name: 'honey dipper' } } });
    expect(rosterOf(TABLE, renamed).objects.find((o) => o.source === 'dipper')!.name).toBe('honey dipper');
    expect(codes(renamed)).toEqual([]);
    expect(codes(planWith({ objects: { dipper: { name: 'smoker/can' } } }))).toContain('name-double');
    expect(codes(planWith({ materials: { brass: { name: ' ' } } }))).toContain('name-empty');
    expect(codes(planWith({}), outlineOfPaths({ 'jars/Mesh_017': ['Material.001'] }))).toEqual([
      'name-default',
      'name-default',
    ]);
  });

  test('that a plan knows and the scene has not are kept and told', () => {
    expect(codes(planWith({ objects: { 'hive/queen': { number: 3 } } }))).toEqual(['object-gone']);
    expect(
      codes(planWith({ rules: [{ what: 'objects', pattern: 'wasp_*', number: 1, countUp: false }] })),
    ).toEqual(['rule-empty']);
    for (const pattern of ['jars/*', '*'])
      expect(codes(planWith({ rules: [{ what: 'objects', pattern, number: 1, countUp: false }] }))).toEqual(
        [],
      );
  });
});

describe('wishes', () => {
  const roster = rosterOf(TABLE, emptyPlan());

  test('point at parts by object, material, group, rule and exception', () => {
    const count = (...who: Parameters<typeof partsOfPicks>[0]) => partsOfPicks(who, roster).length;
    expect(count({ mode: 'with', layer: 'materials', member: 'beech' })).toBe(2);
    expect(count({ mode: 'with', layer: 'groups', member: 'jars' })).toBe(4);
    expect(count({ mode: 'with', layer: 'objects', member: 'bees/*', rule: true })).toBe(4);
    expect(
      count(
        { mode: 'with', layer: 'groups', member: 'jars' },
        { mode: 'without', layer: 'materials', member: 'glass' },
      ),
    ).toBe(2);
    expect(
      count(
        { mode: 'with', layer: 'objects', member: 'bees/*' },
        { mode: 'inside', layer: 'materials', member: 'wing' },
      ),
    ).toBe(2);
  });

  test.each([
    ['objects', 'dipper', 'cryptomatte', { by: 'object' }, true],
    ['materials', 'brass', 'cryptomatte', { by: 'object' }, true], // one object has it, and nothing else
    ['materials', 'beech', 'cryptomatte', { by: 'object' }, false], // it shares an object with leather
    ['materials', 'beech', 'cryptomatte', { by: 'material' }, true],
    ['objects', 'dipper', 'cryptomatte', { by: 'material' }, false],
    ['groups', 'jars', 'cryptomatte', { by: 'object' }, true],
    ['groups', 'jars', 'cryptomatte', { by: 'group', level: 1 }, true],
    ['groups', 'jars/jar_1', 'cryptomatte', { by: 'group', level: 1 }, false],
    ['groups', 'jars/jar_1', 'cryptomatte', { by: 'group', level: 2 }, true],
    ['objects', 'jars/jar_2/lid', 'cryptomatte', { by: 'attribute', attribute: 'client' }, true],
    ['objects', 'dipper', 'object-buffer', { who: { of: 'objects', members: ['dipper'] } }, true],
    [
      'objects',
      'dipper',
      'object-buffer',
      { who: { of: 'objects', members: ['dipper', 'smoker/can'] } },
      false,
    ],
    ['materials', 'brass', 'puzzle-matte', { g: { of: 'materials', members: ['brass'] } }, true],
  ])('%s %s by %s %j: %s', (layer, member, kind, values, served) => {
    const plan = planWith({ wishes: [wish(layer, member)], passes: [pass(kind, values)] });
    expect(judgeWish(plan.wishes[0]!, plan, roster).served).toBe(served);
    // What is switched off serves nobody.
    plan.passes[0]!.on = false;
    expect(judgeWish(plan.wishes[0]!, plan, roster).served).toBe(false);
  });

  test('served by numbers have hard edges, and colours alone do not serve', () => {
    const plan = planWith({
      objects: { dipper: { number: 3 } },
      wishes: [wish('objects', 'dipper')],
      passes: [pass('number-pass'), pass('flat-colour')],
    });
    const judged = judgeWish(plan.wishes[0]!, plan, rosterOf(TABLE, plan));
    expect(judged.direct.map((d) => d.use.kind)).toEqual(['number-pass']);
    expect(judged.verdict).toContain('hard edges');
    plan.passes.shift();
    expect(judgeWish(plan.wishes[0]!, plan, rosterOf(TABLE, plan))).toMatchObject({ served: false });
  });

  test('that matter in mirrors need through-glass IDs, too', () => {
    const w = wish('materials', 'enamel', { throughGlass: true });
    const plan = planWith({ wishes: [w], passes: [pass('cryptomatte', { by: 'material' })] });
    expect(judgeWish(w, plan, roster).served).toBe(false);
    const cheapest = cheapestFor(w, plan, roster, [])!;
    expect(cheapest.kind).toBe('through-glass');
    plan.passes.push(cheapest);
    expect(judgeWish(w, plan, roster).served).toBe(true);
    expect(picksOfWish(w, plan, roster).map((p) => p.layer)).toEqual([
      'CryptoMaterial',
      'RefractedObject',
      'RefractedObject',
    ]);
  });

  test('become picks of the layer that serves them; a rule stays a rule', () => {
    const rule = {
      ...wish('objects', 'bees/*'),
      who: [{ mode: 'with' as const, layer: 'objects', member: 'bees/*', rule: true }],
    };
    const plan = planWith({ wishes: [rule], passes: [pass('cryptomatte', { by: 'object' })] });
    expect(picksOfWish(rule, plan, roster)).toEqual([
      { mode: 'with', layer: 'CryptoObject', member: 'bees/*', rule: true },
    ]);
    plan.passes = [pass('cryptomatte', { by: 'group', level: 1 })];
    expect(picksOfWish(rule, plan, roster)).toEqual([{ mode: 'with', layer: 'CryptoAsset', member: 'bees' }]);
  });
});

describe('proposals', () => {
  const anyWish = fc.oneof(
    fc.constantFrom(...TABLE.materials).map((m) => wish('materials', m)),
    fc
      .constantFrom(...TABLE.nodes.filter((n) => n.kind === 'object').map((n) => n.path))
      .map((o) => wish('objects', o)),
    fc.constantFrom('jars', 'bees', 'smoker', 'jars/jar_1').map((g) => wish('groups', g)),
  );
  test('serve every wish that any pass can serve, and keep data passes', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(anyWish, { selector: (w) => w.id, minLength: 1, maxLength: 8 }),
        fc.boolean(),
        (wishes, through) => {
          const plan = planWith({
            wishes: wishes.map((w) => ({ ...w, throughGlass: through })),
            passes: [pass('depth'), pass('number-pass')],
          });
          const roster = rosterOf(TABLE, plan);
          plan.passes = proposePasses(plan, roster, []);
          for (const w of plan.wishes) expect(judgeWish(w, plan, roster)).toMatchObject({ served: true });
          expect(plan.passes.some((p) => p.kind === 'depth')).toBe(true);
          expect(plan.passes.some((p) => p.kind === 'number-pass')).toBe(false);
          expect(codes(plan)).toEqual([]);
          expect(parsePlan(JSON.parse(JSON.stringify(plan)))).toEqual(plan);
        },
      ),
    );
  });

  test('are small for few wishes and general for many', () => {
    const few = planWith({ wishes: [wish('objects', 'dipper'), wish('materials', 'brass')] });
    expect(proposePasses(few, rosterOf(TABLE, few), []).map((p) => p.kind)).toEqual(['puzzle-matte']);
    const paths = Object.fromEntries(Array.from({ length: 60 }, (_, i) => [`sprigs/sprig_${i}`, ['stem']]));
    const many = planWith({ wishes: Object.keys(paths).map((p) => wish('objects', p)) });
    expect(proposePasses(many, rosterOf(outlineOfPaths(paths), many), []).map((p) => p.kind)).toEqual([
      'cryptomatte',
    ]);
  });
});

describe('costs', () => {
  const plan = planWith({
    passes: [pass('cryptomatte', { by: 'object' }, 'a'), pass('ambient-occlusion', {}, 'b')],
  });
  const roster = rosterOf(TABLE, plan);
  const measured: Measured = {
    width: 960,
    height: 540,
    samples: 64,
    idsOnly: false,
    threads: 2,
    renderer: RENDERER,
    seconds: 111,
    bytes: 3e6,
    passes: [
      { id: 'picture', kind: 'picture', title: 'Picture', channels: 4, seconds: 100, bytes: 2e6 },
      { id: 'a', kind: 'cryptomatte', title: 'Cryptomatte of objects', channels: 12, seconds: 1, bytes: 5e5 },
      {
        id: 'b',
        kind: 'ambient-occlusion',
        title: 'Ambient occlusion',
        channels: 1,
        seconds: 10,
        bytes: 5e5,
      },
    ],
  };

  test('of the same render are what they were', () => {
    const cost = planCost(plan, roster, [measured], 2);
    expect(cost.seconds).toBeCloseTo(111, 6);
    expect(cost.bytes).toBeCloseTo(3e6, 0);
    expect(cost.measured).toBe(true);
  });

  test('grow with pixels and samples, each in its own way', () => {
    const twice = planCost({ ...plan, render: { ...plan.render, samples: 128 } }, roster, [measured], 2);
    expect(twice.passes.map((p) => Math.round(p.seconds))).toEqual([200, 1, 20]);
    expect(twice.bytes).toBeCloseTo(3e6, 0);
    const wide = planCost({ ...plan, render: { ...plan.render, width: 1920 } }, roster, [measured], 2);
    expect(wide.passes.map((p) => Math.round(p.seconds))).toEqual([200, 2, 20]);
    expect(wide.bytes).toBeCloseTo(6e6, 0);
  });

  test('of a sequence are the mean of its frames, not of what was rendered otherwise', () => {
    const frame = (seconds: number, more: Partial<Measured> = {}): Measured => ({
      ...measured,
      passes: measured.passes.map((p) => (p.id === 'picture' ? { ...p, seconds } : p)),
      ...more,
    });
    const frames = [frame(80), frame(100), frame(900, { width: 96, height: 54 }), frame(150)];
    expect(planCost(plan, roster, frames, 2).passes[0]!.seconds).toBeCloseTo(110, 6);
  });

  test('are never taken from a cut-out or a patch, of which only a part was rendered', () => {
    const patch = { ...measured, partial: true, samples: 0.5, seconds: 40, bytes: 10 };
    expect(planCost(plan, roster, [patch, measured], 2)).toEqual(planCost(plan, roster, [measured], 2));
    expect(planCost(plan, roster, [patch], 2)).toEqual(planCost(plan, roster, [], 2));
  });

  test('take no seconds from a renderer of another speed, but its sizes', () => {
    const { renderer: _, ...old } = measured;
    const cost = planCost(plan, roster, [old], 2);
    expect(cost.measured).toBe(false);
    expect(cost.passes[0]!.seconds).toBe(planCost(plan, roster, [], 2).passes[0]!.seconds);
    // Of a pass that sends rays of its own neither; making one from what is there is as fast as ever.
    expect(cost.passes[1]!.seconds).toBeCloseTo(1, 6);
    expect(cost.passes[2]!.seconds).toBeLessThan(15);
    expect(cost.passes[2]!.seconds).not.toBeCloseTo(10, 3);
    expect(cost.bytes).toBeCloseTo(3e6, 0);
  });

  test('are guessed for a scene that was never rendered, and a range counts its frames', () => {
    const cost = planCost({ ...plan, render: { ...plan.render, first: 3, last: 12 } }, roster, [], 2);
    expect(cost).toMatchObject({ measured: false, frames: 10 });
    expect(cost.seconds).toBeGreaterThan(0);
    const idsOnly = planCost(plan, roster, [], 2, true);
    expect(idsOnly.passes[0]!.seconds).toBeLessThan(cost.passes[0]!.seconds / 4);
  });
});

describe('file names', () => {
  const output = { pattern: '{shot}_v{version}_{layers}.{frame}', idsApart: true, compression: 'zip' };
  const where = { shot: 'Hive / étude: 1', version: 7, frame: 12, camera: 'rig/Front cam' };

  test('are filled in and safe for any file system', () => {
    expect(fileName(output, 'ids', where)).toBe('Hive_étude_1_v007_ids.0012.exr');
    expect(fileName({ ...output, pattern: '{camera}' }, 'all', where)).toBe('Front_cam.exr');
    fc.assert(
      fc.property(fc.string(), fc.string(), (shot, camera) => {
        const name = fileName({ ...output, pattern: '{shot}{camera}' }, 'all', { ...where, shot, camera });
        expect(name).toMatch(/^[\p{L}\p{N}_-][\p{L}\p{N}._-]*\.exr$/u);
      }),
    );
  });

  test.each([
    ['', false, 'no file name'],
    ['a/b', false, 'must not contain'],
    ['.hidden', false, 'dot'],
    ['{shot}_{moon}', false, '{moon}'],
    ['{shot}', true, '{frame}'],
  ])('"%s" is refused', (pattern, sequence, words) => {
    expect(namingFault({ ...output, pattern, idsApart: false }, sequence)).toContain(words);
  });
  test('two files of a frame need two names', () => {
    expect(namingFault({ ...output, pattern: '{shot}' }, false)).toContain('{layers}');
    expect(namingFault(output, true)).toBeUndefined();
  });
});

describe('plans as documents', () => {
  test('with every kind of pass are read as they were written', () => {
    const plan = planWith({ passes: PASSES.map((p) => pass(p.kind)) });
    expect(parsePlan(JSON.parse(JSON.stringify(plan)))).toEqual(plan);
  });

  test.each([
    ['a pass that is not known', { passes: [pass('moonlight')] }, 'moonlight'],
    ['a setting that a pass has not', { passes: [pass('depth', { colour: 3 })] }, '/passes/0'],
    ['a number out of range', { objects: { dipper: { number: -1 } } }, '/objects/dipper/number'],
    ['IDs in half', { passes: [{ ...pass('depth'), depth: 'quarter' as never }] }, '/passes/0/depth'],
    [
      'a lossy compression',
      { output: { pattern: 'a', idsApart: false, compression: 'dwaa' } },
      '/output/compression',
    ],
  ])('%s are refused with the place', (_, more, words) => {
    expect(() => parsePlan(planWith(more as Partial<Plan>))).toThrow(words);
  });

  test('that ask for what the scene has not cannot be rendered', () => {
    const faults = (passes: Plan['passes']) => codes(planWith({ passes }));
    expect(faults([pass('object-buffer', { who: { of: 'object number', number: 9 } })])).toEqual([
      'pass-fault',
    ]);
    expect(faults([pass('puzzle-matte')])).toEqual(['pass-fault']);
    expect(faults([pass('cryptomatte', { by: 'attribute', attribute: 'weight' })])).toEqual(['pass-fault']);
    expect(faults([pass('cryptomatte', { by: 'group', level: 9 })])).toEqual(['pass-fault']);
    expect(faults([pass('depth', {}, 'a'), pass('depth', {}, 'b')])).toEqual(['pass-double']);
    expect(codes(planWith({ render: { ...emptyPlan().render, first: 5, last: 2 } }))).toContain('frames');
  });
});
