import { things } from '../cast/cast.ts';
import { outlineOfPaths, pass, planWith } from '../../test/fixtures/outlines.ts';
import { GLASS, grouped, leftOf, material, renderFilm, sceneOf } from '../../test/fixtures/scenes.ts';
import { readExr } from '../formats/exr/read.ts';
import { idOfName } from '../idlayers/ids.ts';
import { maskOf } from '../masks/pipeline.ts';
import { mergeImages } from '../version/merge.ts';
import { openPicture } from '../version/open-picture.ts';
import { develop } from '../plan/develop.ts';
import { rosterOf } from '../roster/roster.ts';
import { stage, type RenderRequest } from '../plan/stage.ts';
import { verifyFrame } from '../plan/verify.ts';
import type { Plan } from '../plan/plan.ts';
import type { Scene } from '../scene/scene.ts';

const OUTLINE = outlineOfPaths({ 'jars/lid': ['enamel'], 'jars/label': ['paper'], wall: ['plaster'] });

/** A lid to the left, a label in the middle, a wall behind all of it but the right edge. */
function table(): Scene {
  const strips = [...leftOf(-0.3), ...leftOf(0.4, -1.1), ...leftOf(1.2, -2)];
  const names = ['jars/lid', 'jars/label', 'wall'];
  const materials = ['enamel', 'paper', 'plaster'].map((name) => material({ name }));
  const scene = grouped(
    sceneOf(strips, materials, (i) => i >> 1),
    [0, 0, 1, 1, 2, 2],
  );
  return { ...scene, objects: names.map((path) => ({ path, name: path })) };
}

const render = { width: 24, height: 16, samples: 32 };
function rendered(plan: Plan, request: RenderRequest = { what: 'all' }, scene = table()) {
  Object.assign(plan.render, render);
  const roster = rosterOf(OUTLINE, plan);
  const staged = stage(scene, plan, roster, request);
  const film = renderFilm(staged.scene, staged.settings);
  const { files, measured } = develop(film, staged, plan, roster, request, { threads: 1, seconds: 2 });
  const open = openPicture(mergeImages(files.map((f) => readExr(f.bytes))));
  return { film, files, measured, open, roster, staged, findings: verifyFrame(open, staged.uses, roster) };
}
const plane = (open: ReturnType<typeof rendered>['open'], name: string) => {
  const c = open.image.channels.find((x) => x.name === name)!;
  return c.data as Float32Array;
};
const mask = (open: ReturnType<typeof rendered>['open'], layer: string, member: string) => ({
  coverage: maskOf(open, { who: [{ mode: 'with', layer, member }] }).flat(),
});

describe('ID passes of one film agree', () => {
  const plan = planWith({
    objects: { 'jars/lid': { number: 4, name: 'jars/lid ✱' }, 'jars/label': { number: 5 } },
    materials: { plaster: { number: 2 } },
    passes: [
      pass('cryptomatte', { by: 'object' }, 'a'),
      pass('cryptomatte', { by: 'material' }, 'b'),
      pass('cryptomatte', { by: 'group', level: 1, ranks: 2 }, 'c'),
      pass('object-buffer', { who: { of: 'object number', number: 4 } }, 'd'),
      pass('puzzle-matte', {
        set: 1,
        r: { of: 'material number', number: 2 },
        b: { of: 'objects', members: ['jars/*'] },
      }),
      pass('number-pass', { of: 'objects' }),
      pass('flat-colour', { of: 'objects' }, 'f'),
      pass('flat-colour', { of: 'objects', outline: true }, 'g'),
    ],
  });
  const result = rendered(plan);
  const { open, film } = result;

  test('every layer can be picked from, by name or number', () => {
    expect(result.findings).toEqual([]);
    expect(open.cast.map((l) => l.name).sort()).toEqual([
      'Buffers',
      'CryptoAsset',
      'CryptoMaterial',
      'CryptoObject',
      'Numbers of objects',
      'Puzzle mattes',
    ]);
    expect(open.cast.find((l) => l.name === 'CryptoObject')!.members.map((m) => m.name)).toContain(
      'jars/lid ✱',
    );
    const lid = mask(open, 'CryptoObject', 'jars/lid ✱').coverage;
    const buffer = mask(open, 'Buffers', '04').coverage;
    const byMaterial = mask(open, 'CryptoMaterial', 'enamel').coverage;
    lid.forEach((c, p) => {
      expect(buffer[p]).toBeCloseTo(c, 6);
      expect(byMaterial[p]).toBeCloseTo(c, 6);
    });
    const jars = mask(open, 'CryptoAsset', 'jars').coverage;
    const slot = mask(open, 'Puzzle mattes', 'jars_').coverage;
    jars.forEach((c, p) => expect(slot[p]).toBeCloseTo(c, 6));
    expect(plane(open, 'puzzle_1.R').some((v) => v > 0)).toBe(true);
    expect(plane(open, 'puzzle_1.G').every((v) => v === 0)).toBe(true);
  });

  test('the number pass holds whole numbers, that of the most covering thing', () => {
    const values = plane(open, 'objectNumber.Y');
    expect(new Set(values)).toEqual(new Set([0, 4, 5]));
    const [lid, label] = film.coverage([[0], [1], []], 2);
    values.forEach((v, p) => {
      if (lid![p]! > 0.5) expect(v).toBe(4);
      else if (label![p]! > 0.5) expect(v).toBe(5);
    });
  });

  test('flat colours are mixtures by coverage, and an outline is black', () => {
    const colours = JSON.parse(
      new TextDecoder().decode(
        open.image.header.attributes.find((a) => a.name === 'zestyCrow/colours/flat_object')!.value,
      ),
    ) as Record<string, number[]>;
    const [lid] = film.coverage([[0], [], []], 1);
    const at = lid!.findIndex((c) => c === 1);
    ['R', 'G', 'B'].forEach((c, k) =>
      expect(plane(open, `flat_object.${c}`)[at]).toBeCloseTo(colours['jars/lid ✱']![k]! / 255, 6),
    );
    const black = plane(open, 'flat_object_outlined.R').map((v, p) =>
      v + plane(open, 'flat_object_outlined.G')[p]! + plane(open, 'flat_object_outlined.B')[p]! === 0 ? 1 : 0,
    );
    const alpha = film.alpha();
    // Each row crosses three edges.
    expect(black.filter((b, p) => b && alpha[p] === 1).length).toBeGreaterThanOrEqual(2 * 16);
  });

  test('the cost of every pass is told, and the bytes are those of the file', () => {
    expect(result.measured.passes.map((p) => p.id)).toEqual(['picture', ...plan.passes.map((p) => p.id)]);
    const sum = result.measured.passes.reduce((n, p) => n + p.bytes, 0);
    expect(Math.abs(sum - result.files[0]!.bytes.length)).toBeLessThan(20);
    expect(result.measured).toMatchObject({
      samples: 32,
      idsOnly: false,
      bytes: result.files[0]!.bytes.length,
    });
  });
});

describe('what a render is asked for', () => {
  const passes = [
    pass('cryptomatte', { by: 'object' }),
    pass('depth', { near: 0.5, far: 2.5 }),
    pass('reflection'),
  ];

  test('IDs apart go into a file of their own, and both are one picture when read', () => {
    const plan = planWith({
      passes,
      output: { pattern: '{shot}_{layers}', idsApart: true, compression: 'zips' },
    });
    const { files, open, findings } = rendered(plan);
    expect(files.map((f) => f.layers)).toEqual(['picture', 'ids']);
    expect(readExr(files[0]!.bytes).channels.some((c) => c.name.startsWith('Crypto'))).toBe(false);
    expect(open.beauty).toBeDefined();
    expect(open.cast).toHaveLength(1);
    expect(findings).toEqual([]);
    const z = plane(open, 'depth.Z');
    expect(z[8 * 24 + 2]).toBeCloseTo(0.25, 5);
    expect(z[8 * 24 + 23]).toBe(1);
  });

  test('IDs only have no light and fit the picture exactly', () => {
    const all = rendered(planWith({ passes }));
    const ids = rendered(planWith({ passes }), { what: 'ids' });
    expect(ids.files.map((f) => f.layers)).toEqual(['ids']);
    expect(ids.open.beauty).toBeUndefined();
    expect(ids.open.image.channels.some((c) => c.name.startsWith('reflection'))).toBe(false);
    for (const name of ['CryptoObject00.R', 'CryptoObject00.G', 'CryptoObject01.A', 'depth.Z'])
      expect(plane(ids.open, name)).toEqual(plane(all.open, name));
  });

  test('a patch keeps every other pixel of the version it is laid over, bit by bit', () => {
    const plan = planWith({ passes: [passes[0]!] });
    const before = rendered(plan);
    const roster = before.roster;
    const request: RenderRequest = {
      what: 'patch',
      who: [{ mode: 'with', layer: 'objects', member: 'jars/label' }],
      looks: { paper: { colour: [0.9, 0.1, 0.1] } },
    };
    const staged = stage(table(), plan, roster, request);
    const film = renderFilm(staged.scene, staged.settings);
    const { files, measured } = develop(film, staged, plan, roster, request, {
      threads: 1,
      seconds: 1,
      base: before.open.image,
    });
    expect(measured.partial).toBe(true);
    expect(before.measured.partial).toBeUndefined();
    const after = readExr(files[0]!.bytes);
    const [label] = before.film.coverage([[], [0], []], 1);
    const old = plane(before.open, 'R');
    const fresh = after.channels.find((c) => c.name === 'R')!.data;
    let changed = 0;
    label!.forEach((c, p) => (c > 0 ? changed++ : expect(fresh[p]).toBe(old[p])));
    expect(changed).toBeGreaterThan(20);
    // The IDs stay whole, too.
    for (const name of ['CryptoObject00.R', 'CryptoObject00.G', 'CryptoObject01.G'])
      expect(after.channels.find((c) => c.name === name)!.data).toEqual(plane(before.open, name));
    // A whole render with the new look gives the same pixels.
    const whole = table();
    whole.materials[1] = { ...whole.materials[1]!, colour: [0.9, 0.1, 0.1] };
    const again = rendered(plan, { what: 'all' }, whole);
    label!.forEach((c, p) => {
      if (c > 0) expect(fresh[p]).toBe(plane(again.open, 'R')[p]);
    });
  });

  test('a cut-out with a catcher has layers for shadow and reflection', () => {
    const plan = planWith({ passes: [passes[0]!] });
    const { open, findings } = rendered(plan, {
      what: 'cut-out',
      who: [{ mode: 'with', layer: 'groups', member: 'jars' }],
      keepCovered: true,
      catcher: [{ mode: 'with', layer: 'objects', member: 'wall' }],
    });
    expect(findings).toEqual([]);
    expect(open.image.channels.map((c) => c.name)).toEqual(
      expect.arrayContaining(['caught_shadow.Y', 'caught_reflection.R']),
    );
    expect(
      things(open.cast[0]!.members)
        .map((m) => m.name)
        .sort(),
    ).toEqual(['jars/label', 'jars/lid']);
    expect(() => rendered(plan, { what: 'cut-out', who: [] })).toThrow('Choose some');
  });

  test('a damaged frame is found out', () => {
    const { open, staged, roster } = rendered(planWith({ passes: [passes[0]!] }));
    open.layers[0]!.planes!.coverage[0]![5] = 0.1;
    expect(verifyFrame(open, staged.uses, roster).map((f) => f.code)).toEqual(['coverage-wrong']);
    open.layers[0]!.manifest.nameOf.delete(idOfName('jars/lid'));
    expect(verifyFrame(open, staged.uses, roster).map((f) => f.code)).toEqual(
      expect.arrayContaining(['names-lost', 'ids-strange']),
    );
  });

  test('through glass, what is behind can be picked', () => {
    const scene = table();
    scene.materials[0] = { ...GLASS, name: 'enamel' };
    const plan = planWith({
      passes: [
        pass('cryptomatte', { by: 'object' }),
        pass('through-glass', { way: 'refraction', by: 'object' }),
      ],
    });
    const { open, findings } = rendered(plan, { what: 'all' }, scene);
    expect(findings).toEqual([]);
    const behind = mask(open, 'RefractedObject', 'jars/label').coverage;
    expect(behind[8 * 24 + 2]).toBeGreaterThan(0.8);
    expect(mask(open, 'CryptoObject', 'jars/label').coverage[8 * 24 + 2]).toBe(0);
  });
});
