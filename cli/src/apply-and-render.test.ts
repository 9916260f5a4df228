import { createHash } from 'node:crypto';
import { copyFileSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { Document, WebIO } from '@gltf-transform/core';
import { fail, notes, run, start } from '../test/calls.ts';
import { at, exactPlane, read } from '../test/files.ts';
import { frozenPath } from '../../core/test/fixtures/frozen.ts';
import { samplePath, worst } from '../../core/test/fixtures/samples.ts';
import { smallScene } from '../../core/test/fixtures/small-scene.ts';
import { tool } from '../../core/test/fixtures/tools.ts';
import {
  DEFAULT_RENDER,
  emptyPlan,
  exportKind,
  halvesToFloats,
  loadIdLayers,
  openFrame,
  parseChangeList,
  parsePlan,
  readExr,
  writeExr,
  type ExrImage,
  type PassUse,
  type Plan,
  type PlanCost,
} from '@zesty-crow/core';
import { nodeZlib } from '@zesty-crow/core/node';

describe('apply and convert', () => {
  const list = {
    format: 'zesty-crow/changes',
    version: 1,
    changes: [
      {
        id: 'a',
        words: 'Brighter smoker',
        on: true,
        done: false,
        who: [{ mode: 'with', layer: 'CryptoObject', member: 'table/smoker' }],
        corrections: [{ id: 'b', kind: 'exposure', on: true, values: { stops: 1 } }],
      },
    ],
  };
  /** Corrections that read neighbours and another pass, a limit, an amount, and a refined edge. */
  const rich = {
    ...list,
    version: 2,
    changes: [
      { ...list.changes[0]!, edge: [] },
      {
        id: 'soft',
        words: 'The smoker softer, and calm',
        on: true,
        done: false,
        who: [{ mode: 'with', layer: 'CryptoObject', member: 'table/smoker' }],
        edge: [
          { id: 'e1', kind: 'grow', on: true, values: { by: 1.5 } },
          { id: 'e2', kind: 'feather', on: true, values: { size: 5 } },
        ],
        corrections: [
          { id: 'c1', kind: 'blur', on: true, values: { size: 7 } },
          {
            id: 'c2',
            kind: 'contrast',
            on: true,
            values: { contrast: -30, amount: 60, limitLightnessFrom: 20 },
          },
          { id: 'c3', kind: 'multiply-by-pass', on: true, values: { pass: 'depth', white: 9 } },
          { id: 'c4', kind: 'glow', on: true, values: { strength: 60, threshold: 0.2, size: 9 } },
        ],
      },
    ],
  };
  test('keyframes are those of the frame, a variant’s values those typed by hand', async () => {
    mkdirSync(at('in-states'), { recursive: true });
    for (const frame of ['0001', '0003'])
      copyFileSync(samplePath('all.exr'), at(`in-states/honey_v001.${frame}.exr`));
    const whole = parseChangeList(list);
    const [change] = whole.changes as [(typeof whole.changes)[number]];
    const [use] = change.corrections as [(typeof change.corrections)[number]];
    const key = (frame: number, value: number) => ({ frame, value, way: 'linear' as const });
    const write = (name: string, changed: typeof use, more: object = {}) =>
      writeFileSync(
        at(name),
        JSON.stringify({ ...whole, changes: [{ ...change, corrections: [changed] }], ...more }),
      );
    write('keyed.json', { ...use, keys: { stops: [key(1, 1), key(5, 0)] } });
    const set = { change: 'a', step: 'b', kind: 'exposure', values: { stops: 0.5 } };
    write('varied.json', use, { variants: [{ id: 'v', name: 'Dusk', sets: [set] }] });
    write('typed.json', { ...use, values: { stops: 0.5 } });
    const applied = async (changes: string, ...more: string[]) => {
      await run(
        'apply',
        at('in-states'),
        '--changes',
        at(changes),
        '--out',
        at('out.png'),
        '--depth',
        '8',
        ...more,
      );
      return readFileSync(at('out.png'));
    };
    const half = await applied('typed.json');
    expect((await applied('keyed.json', '--frame', '3')).equals(half)).toBe(true);
    expect((await applied('varied.json', '--variant', 'Dusk')).equals(half)).toBe(true);
    // The first frame by default.
    const base = await applied('varied.json');
    expect(base.equals(half)).toBe(false);
    expect((await applied('keyed.json')).equals(base)).toBe(true);
    expect(
      await fail(
        'apply',
        at('in-states'),
        '--changes',
        at('varied.json'),
        '--out',
        at('out.exr'),
        '--variant',
        'Noon',
      ),
    ).toContain('"Dusk"');
  });
  test('the mask of a change is that of its picks and its heading', async () => {
    const smoker = list.changes[0]!;
    const full = {
      ...list,
      version: 4,
      headings: [
        {
          id: 'h',
          words: 'Left',
          on: true,
          who: [{ mode: 'with', layer: 'CryptoObject', member: 'table/smoker' }],
          edge: [],
          fence: [],
          brush: [],
        },
      ],
      changes: [{ ...smoker, edge: [], fence: [], brush: [], plainEdges: false, heading: 'h' }],
    };
    writeFileSync(at('full.json'), JSON.stringify(full));
    const args = ['mask', samplePath('all.exr'), '--changes', at('full.json')];
    await run(...args, '--change', 'Brighter smoker', '--out', at('change.exr'));
    // Limited to itself, its edge counts twice.
    const twice = exactPlane('table/smoker').map((c) => c * c);
    expect(worst(read('change.exr').channels[0]!.data, twice)).toBeLessThan(1e-5);
    expect(await fail(...args, '--change', 'Lids', '--out', at('x.exr'))).toContain('"Brighter smoker"');
    expect(await fail('mask', samplePath('all.exr'), '--out', at('x.exr'))).toContain(
      '--changes and --change',
    );
  });
  test('a change list brightens just its member', async () => {
    writeFileSync(at('changes.json'), JSON.stringify(list));
    await run('apply', samplePath('all.exr'), '--changes', at('changes.json'), '--out', at('applied.exr'));
    const red = (image: ExrImage) =>
      halvesToFloats(image.channels.find((c) => c.name === 'R')!.data as Uint16Array);
    const before = red(readExr(new Uint8Array(readFileSync(samplePath('all.exr')))));
    const after = red(read('applied.exr'));
    const mask = exactPlane('table/smoker');
    expect(
      mask.findIndex((c, p) =>
        c === 0 ? after[p] !== before[p] : c === 1 && Math.abs(after[p]! - 2 * before[p]!) > 0.002,
      ),
    ).toBe(-1);
    await run(
      'apply',
      samplePath('all.exr'),
      '--changes',
      at('changes.json'),
      '--out',
      at('applied.png'),
      '--depth',
      '8',
    );
    expect(tool('oiiotool', '--info', at('applied.png'))).toMatch(/640 x +360, \d channel, uint8 png/);
  });
  test('writes what the export of the interface writes, and a float picture stays float', async () => {
    writeFileSync(at('changes.json'), JSON.stringify(rich));
    const image = readExr(new Uint8Array(readFileSync(samplePath('all.exr'))));
    const channels = image.channels.map((c) =>
      c.type === 'half'
        ? { ...c, type: 'float' as const, data: Float32Array.from(c.data, (_, p) => 1 / (3 + (p % 1000))) }
        : c,
    );
    writeFileSync(at('float.exr'), writeExr({ ...image.header, channels }, { zlib: nodeZlib }));
    for (const source of [samplePath('all.exr'), at('float.exr')]) {
      await run('apply', source, '--changes', at('changes.json'), '--out', at('applied.exr'));
      const frame = await openFrame([{ role: 'picture', name: 'a.exr', frame: null }], undefined, () =>
        Promise.resolve(new Uint8Array(readFileSync(source))),
      );
      const same = await exportKind('corrected-exr')!.write(
        await frame.all(),
        { list: parseChangeList(rich) },
        { zlib: nodeZlib },
      );
      expect(Buffer.compare(readFileSync(at('applied.exr')), same)).toBe(0);
    }
    expect(read('applied.exr').channels.find((c) => c.name === 'R')!.type).toBe('float');
    const bright = structuredClone(list);
    bright.changes[0]!.corrections[0]!.values.stops = 20;
    writeFileSync(at('bright.json'), JSON.stringify(bright));
    const stderr = await notes(
      'apply',
      at('float.exr'),
      '--changes',
      at('bright.json'),
      '--out',
      at('half.exr'),
      '--half',
    );
    expect(stderr).toMatch(/note: \d+ pixels are brighter than half floats can hold/);
    expect(read('half.exr').channels.find((c) => c.name === 'R')!.type).toBe('half');
  });
  test('what is no change list is refused', async () => {
    writeFileSync(at('wrong.json'), JSON.stringify({ ...list, version: 9 }));
    expect(
      await fail('apply', samplePath('all.exr'), '--changes', at('wrong.json'), '--out', at('x.exr')),
    ).toContain('is of version 9');
  });
  test('convert keeps every pixel', async () => {
    await run('convert', samplePath('material_piz.exr'), at('converted.exr'), '--compression', 'zips');
    expect(tool('oiiotool', samplePath('material_piz.exr'), at('converted.exr'), '--diff')).toContain('PASS');
    expect(tool('exrheader', at('converted.exr'))).toContain('zip, individual scanlines');
    await run('convert', samplePath('object_tiled.exr'), at('lines.exr'));
    expect(tool('oiiotool', samplePath('object_tiled.exr'), at('lines.exr'), '--diff')).toContain('PASS');
    expect(tool('exrinfo', at('lines.exr'))).toContain('scanlineimage');
  });
});

describe('render', () => {
  /** Two overlapping squares of different materials before a camera. */
  async function scene(): Promise<string> {
    const document = new Document();
    const buffer = document.createBuffer();
    const root = document.createScene('squares');
    for (const [i, name] of ['wax', 'clay'].entries()) {
      const positions = Float32Array.of(-1, -1, 0, 0.3, -1, 0, 0.3, 1, 0, -1, 1, 0).map((v, k) =>
        k % 3 === 0 ? v + i * 0.5 : v,
      );
      const primitive = document
        .createPrimitive()
        .setAttribute(
          'POSITION',
          document.createAccessor().setType('VEC3').setArray(positions).setBuffer(buffer),
        )
        .setIndices(
          document
            .createAccessor()
            .setType('SCALAR')
            .setArray(Uint16Array.of(0, 1, 2, 0, 2, 3))
            .setBuffer(buffer),
        )
        .setMaterial(document.createMaterial(name).setBaseColorFactor([0.8, 0.3 + 0.3 * i, 0.1, 1]));
      root.addChild(
        document
          .createNode(`square_${name}`)
          .setMesh(document.createMesh(name).addPrimitive(primitive))
          .setTranslation([0, 0, -3 - i]),
      );
    }
    root.addChild(
      document
        .createNode('camera')
        .setCamera(document.createCamera('camera').setType('perspective').setYFov(0.8)),
    );
    writeFileSync(at('squares.glb'), await new WebIO().writeBinary(document));
    return at('squares.glb');
  }

  test('gives the same picture on any number of threads, sound layers, and the same IDs without light', async () => {
    const file = await scene();
    const size = ['--width', '70', '--height', '40', '--samples', '8'];
    const rendering = (out: string) => ['render', file, '--out', at(out), ...size];
    const render = (out: string, ...more: string[]) => run(...rendering(out), ...more);
    await render('one.exr', '--threads', '1');
    start(...rendering('two.exr'), '--threads', '2');
    await render('seed.exr', '--seed', '6');
    await render('ids.exr', '--ids-only');
    expect(Buffer.compare(readFileSync(at('one.exr')), readFileSync(at('two.exr')))).toBe(0);
    expect(Buffer.compare(readFileSync(at('one.exr')), readFileSync(at('seed.exr')))).not.toBe(0);
    const full = loadIdLayers(read('one.exr'));
    expect(full.findings).toEqual([]);
    expect(full.layers.map((l) => [l.name, l.planes!.ids.length, l.manifestFrom])).toEqual([
      ['CryptoObject', 6, 'embedded'],
      ['CryptoMaterial', 6, 'embedded'],
    ]);
    expect([...full.layers[0]!.manifest.nameOf.values()]).toEqual(['square_wax', 'square_clay']);
    const ids = loadIdLayers(read('ids.exr'));
    expect(ids.layers[1]!.planes).toEqual(full.layers[1]!.planes);
    expect(read('ids.exr').channels.some((c) => c.name === 'R')).toBe(false);
    const header = tool('exrheader', at('one.exr'));
    expect(header).toContain('R, 16-bit floating-point');
    expect(header).toContain('CryptoMaterial02.A, 32-bit floating-point');
  });
  test('says what is wrong with a scene or settings', async () => {
    const file = await scene();
    expect(await fail('render', samplePath('all.exr'), '--out', at('x.exr'))).toContain('not a glTF');
    expect(await fail('render', file, '--out', at('x.exr'), '--width', '0')).toContain('Width');
    expect(await fail('render', file, '--out', at('x.tif'))).toContain('.exr');
  });

  const plan = (more: Partial<Plan> = {}): Plan => ({
    ...emptyPlan(),
    objects: { jars: { number: 4 } },
    passes: [
      ['cryptomatte', { by: 'object' }],
      ['cryptomatte', { by: 'attribute', attribute: 'client' }],
      ['object-buffer', { who: { of: 'object number', number: 4 } }],
      ['through-glass', { way: 'refraction', by: 'object', ranks: 2 }],
      ['ambient-occlusion', {}],
      ['motion', {}],
      ['diffuse-direct', {}],
    ].map(
      ([kind, values], i) =>
        ({ id: String(i), kind, on: true, depth: i < 4 ? 'float' : 'half', values }) as PassUse,
    ),
    output: { pattern: '{shot}_{layers}.{frame}', idsApart: true, compression: 'zip' },
    render: { ...DEFAULT_RENDER, width: 64, height: 40, samples: 8, bounces: 1, shutter: 0.5, last: 2 },
    ...more,
  });

  test('by a plan writes its files, which other programs read with the same values', async () => {
    writeFileSync(at('small.glb'), await smallScene());
    writeFileSync(at('small.plan.json'), JSON.stringify(plan()));
    await run('render', at('small.glb'), '--plan', at('small.plan.json'), '--out', at('frames'));
    expect(readdirSync(at('frames')).sort()).toEqual(
      ['ids', 'picture'].flatMap((l) => [1, 2].map((f) => `small_${l}.000${f}.exr`)),
    );
    const ids = read('frames/small_ids.0002.exr');
    expect(ids.channels.map((c) => c.name)).toEqual(
      expect.arrayContaining(['buffer_04.Y', 'Cryptoclient00.R', 'CryptoObject02.A', 'RefractedObject00.G']),
    );
    expect(ids.channels.every((c) => c.type === 'float')).toBe(true);
    expect(tool('exrheader', at('frames/small_picture.0001.exr'))).toContain(
      'diffuse_direct.R, 16-bit floating-point',
    );
    // The same average by another reader.
    const buffer = ids.channels.find((c) => c.name === 'buffer_04.Y')!.data as Float32Array;
    const mean = buffer.reduce((a, b) => a + b) / buffer.length;
    const stats = tool('oiiotool', at('frames/small_ids.0002.exr'), '--ch', 'buffer_04.Y', '--printstats');
    expect(Number(/Stats Avg: ([\d.]+)/.exec(stats)![1])).toBeCloseTo(mean, 4);
    expect(mean).toBeGreaterThan(0.02);
  });

  test('of IDs alone gives the very same ID passes', async () => {
    await run(
      'render',
      at('small.glb'),
      '--plan',
      at('small.plan.json'),
      '--out',
      at('alone'),
      '--frames',
      '2',
      '--ids-only',
    );
    expect(readdirSync(at('alone'))).toEqual(['small_ids.0002.exr']);
    const [all, alone] = ['frames', 'alone'].map((f) => read(`${f}/small_ids.0002.exr`));
    for (const c of all!.channels)
      expect(alone!.channels.find((x) => x.name === c.name)!.data).toEqual(c.data);
  });

  test('with a plan that cannot be rendered says why', async () => {
    const failing = (more: Partial<Plan>) => {
      writeFileSync(at('bad.plan.json'), JSON.stringify(plan(more)));
      return fail('render', at('small.glb'), '--plan', at('bad.plan.json'), '--out', at('bad'));
    };
    expect(await failing({ objects: {} })).toContain('number 4');
    const inHalf = plan().passes.map((p) => ({ ...p, depth: 'half' as const }));
    expect(await failing({ passes: inHalf })).toContain('/passes/0/depth is "half", which is none of: float');
    expect(await failing({ output: { ...plan().output, pattern: 'one' } })).toContain('{frame}');
    expect(await failing({ render: { ...plan().render, surroundings: 'meadow.exr' } })).toContain(
      'meadow.exr',
    );
    expect(await failing({ render: { ...plan().render, camera: 'drone' } })).toContain('drone');
    expect(await failing({ passes: 'all' as never })).toContain('/passes');
    expect(
      await fail('render', at('small.glb'), '--plan', samplePath('all.exr'), '--out', at('bad')),
    ).toContain('JSON');
  });

  test('lit by a picture all around takes its light', async () => {
    copyFileSync(samplePath('all.exr'), at('around.exr'));
    const lit = plan({
      passes: [],
      render: { ...plan().render, last: 1, surroundings: 'around.exr', surroundingsStops: 3 },
    });
    const sky = plan({ passes: [], render: { ...plan().render, last: 1 } });
    for (const [name, p] of Object.entries({ lit, sky })) {
      writeFileSync(at(`${name}.json`), JSON.stringify({ ...p, output: { ...p.output, idsApart: false } }));
      await run('render', at('small.glb'), '--plan', at(`${name}.json`), '--out', at(`${name}.exr`));
    }
    const bright = (name: string) =>
      halvesToFloats(read(name).channels.find((c) => c.name === 'R')!.data as Uint16Array).reduce(
        (a, b) => a + b,
      );
    expect(bright('lit.exr')).not.toBeCloseTo(bright('sky.exr'), 0);
  });
});

describe('plan', () => {
  test('proposes passes for wishes and tells their cost', async () => {
    writeFileSync(at('small.glb'), await smallScene());
    const wish = (id: string, layer: string, member: string) => ({
      id,
      words: `The ${member}`,
      who: [{ mode: 'with', layer, member }],
      throughGlass: false,
    });
    writeFileSync(
      at('wishes.json'),
      JSON.stringify([wish('a', 'objects', 'bee'), wish('b', 'groups', 'jars')]),
    );
    const text = await run('plan', at('small.glb'), '--wishes', at('wishes.json'));
    expect(text).toContain('Puzzle matte 1');
    expect(text).toMatch(/In all about [\d.]+ (s|min) and [\d.]+ MB a frame, 1 frame/);
    const { plan, cost } = JSON.parse(
      await run('plan', at('small.glb'), '--wishes', at('wishes.json'), '--json'),
    ) as {
      plan: Plan;
      cost: PlanCost;
    };
    expect(parsePlan(plan).passes.map((p) => p.kind)).toEqual(['puzzle-matte']);
    expect(cost.bytes).toBeGreaterThan(0);
    writeFileSync(at('wishes.json'), '[{"id":"a"}]');
    expect(await fail('plan', at('small.glb'), '--wishes', at('wishes.json'))).toContain('/wishes/0');
    expect(JSON.parse(await run('schema', 'plan'))['$id']).toBe('zesty-crow/plan');
  });
});

describe('pack', () => {
  test('makes parcels of all frames, with the sums of their files beside them', async () => {
    const parcel = (kind: string, title: string, settings: object, more = {}) => ({
      ...{ id: title, kind, title, frames: '', variants: [''], settings },
      ...{ name: '{parcel}/{shot}_{part}.{frame}', folder: '', ...more },
    });
    mkdirSync(at('pack'));
    for (const frame of ['0001', '0002']) copyFileSync(samplePath('all.exr'), at(`pack/table.${frame}.exr`));
    const parcels = [
      parcel('masks', 'Smoker', { of: 'members', members: 'table/smoker' }),
      parcel('picture', 'For looking', { format: 'png8' }, { frames: '2' }),
    ];
    writeFileSync(at('parcels.json'), JSON.stringify({ format: 'zesty-crow/parcels', version: 1, parcels }));
    const said = await run(
      'pack',
      at('pack'),
      '--parcels',
      at('parcels.json'),
      '--out',
      at('packed'),
      '--shot',
      'Table',
    );
    expect(said.trim().split('\n').sort()).toEqual([
      'for_looking/table.0002.png',
      'smoker/table_table_smoker.0001.png',
      'smoker/table_table_smoker.0002.png',
    ]);
    const { files } = JSON.parse(readFileSync(at('packed/manifest.json'), 'utf8')) as {
      files: { name: string; sha256: string }[];
    };
    for (const { name, sha256 } of files)
      expect(
        createHash('sha256')
          .update(readFileSync(at(`packed/${name}`)))
          .digest('hex'),
      ).toBe(sha256);
    tool('oiiotool', at(`packed/smoker/table_table_smoker.0002.png`), '-d', 'float', '-o', at('packed.exr'));
    expect(
      worst(read('packed.exr').channels[0]!.data as Float32Array, exactPlane('table/smoker')),
    ).toBeLessThan(1e-5);
    expect(
      await fail(
        'pack',
        at('pack'),
        '--parcels',
        at('parcels.json'),
        '--out',
        at('packed'),
        '--only',
        'Lids',
      ),
    ).toContain('There are: Smoker, For looking.');
  });

  test('writes camera and places of a scene, and says what is missing without one', async () => {
    const parcel = {
      ...{ id: 'p', kind: 'places', title: 'Places', frames: '', variants: [''] },
      ...{ settings: { members: 'jars/*/lid' }, name: '{part}', folder: '' },
    };
    writeFileSync(
      at('places.json'),
      JSON.stringify({ format: 'zesty-crow/parcels', version: 1, parcels: [parcel] }),
    );
    const files = ['0001', '0002'].map((n) => frozenPath(`bee_flight_v1.${n}.exr`));
    const rest = ['--parcels', at('places.json'), '--out', at('places')];
    // As a program: packed surfaces are unpacked by a package that looks for its WebAssembly beside itself.
    const said = start('pack', ...files, ...rest, '--scene', frozenPath('bee_flight.glb'));
    expect(said.trim().split('\n').sort()).toEqual(['places.glb', 'places.json']);
    const told = JSON.parse(readFileSync(at('places/places.json'), 'utf8')) as {
      frames: number[];
      camera: { matrices: number[][] };
      places: { name: string; seen: object[] }[];
    };
    expect(told.frames).toEqual([1, 2]);
    expect(told.camera.matrices[0]).not.toEqual(told.camera.matrices[1]);
    expect(told.places.map((p) => [p.name, p.seen.length])).toEqual([
      ['jars/jar_1/lid', 2],
      ['jars/jar_2/lid', 2],
    ]);
    expect((await run('pack', files[0]!, ...rest)).trim()).toBe('places.json');
  });
});
