import { deflateSync } from 'node:zlib';
import { sampleBytes } from '../../../core/test/fixtures/samples.ts';
import { file, floatCopy, sessionOf, view } from '../../test/session.ts';
import {
  alone,
  castOf,
  exportKind,
  floatsToHalves,
  noMask,
  openFrame,
  packIndex,
  readExr,
  tilesAcross,
  type Change,
} from '@zesty-crow/core';
import { nodeCrew, nodeZlib } from '@zesty-crow/core/node';
import type { Probe, ViewState } from './messages.ts';
import { ClosedError } from './open-frame.ts';

const change = (id: string, member: string, stops: number, layer = 'CryptoObject'): Change => ({
  id,
  words: id,
  on: true,
  done: false,
  edge: [],
  fence: [],
  brush: [],
  plainEdges: false,
  who: [{ mode: 'with', layer, member }],
  corrections: [
    { id: `${id}1`, kind: 'exposure', on: true, values: { stops } },
    { id: `${id}2`, kind: 'hue-saturation-lightness', on: true, values: { hue: 70, saturation: 20 } },
  ],
});
const CHANGES = [
  change('bees', 'bees/*', 1.5),
  change('brass', 'brass', -0.7, 'CryptoMaterial'),
  change('sky', 'nothing', 0.25),
];
/** With corrections that read neighbours and another pass, a limit, an amount, and a refined edge. */
const RICH: Change[] = [
  ...CHANGES,
  {
    ...change('smoker', 'table/smoker', 0.1),
    edge: [{ id: 'e', kind: 'feather', on: true, values: { size: 5 } }],
    corrections: [
      { id: 't1', kind: 'blur', on: true, values: { size: 7 } },
      { id: 't2', kind: 'contrast', on: true, values: { contrast: 40, amount: 60, limitLightnessFrom: 20 } },
      { id: 't3', kind: 'multiply-by-pass', on: true, values: { pass: 'depth', white: 9 } },
      { id: 't4', kind: 'glow', on: true, values: { strength: 60, threshold: 0.2, size: 9 } },
    ],
  },
];
async function exported(name: string, bytes: Uint8Array, changes: Change[], kind = 'corrected-exr') {
  const frame = await openFrame([{ role: 'picture', name, frame: null }], undefined, async () => bytes);
  const list = {
    format: 'zesty-crow/changes' as const,
    version: 7 as const,
    headings: [],
    changes,
    variants: [],
  };
  const notes: string[] = [];
  const out = await exportKind(kind)!.write(
    await frame.all(),
    { list },
    {
      zlib: nodeZlib,
      onNote: (n) => notes.push(n),
    },
  );
  return { image: readExr(out), notes };
}

describe('what is seen is what is saved', () => {
  test.each(['half', 'float'] as const)('bit for bit, in a %s picture', async (type) => {
    const bytes = type === 'half' ? sampleBytes('all.exr') : floatCopy(sampleBytes('all.exr'));
    const { session, events, told, rest } = sessionOf({ 'all.exr': bytes });
    session.show(view({ changes: RICH, openChange: 'bees' }));
    await session.open({ files: [file('all.exr')] }, undefined, events);
    await rest();
    expect(told.failures).toEqual([]);
    const { image } = await exported('all.exr', bytes, RICH);
    const channels = ['R', 'G', 'B'].map((n) => image.channels.find((c) => c.name === n)!);
    expect(channels.map((c) => c.type)).toEqual([type, type, type]);
    let touched = 0;
    for (let y = 0; y < 360; y += 3)
      for (let x = y % 5; x < 640; x += 5) {
        const { before, after } = (await session.ask({ ask: 'probe', x, y })) as Probe;
        const saved = channels.map((c) => c.data[y * 640 + x]!);
        const seen = type === 'half' ? [...floatsToHalves(after)] : after;
        if (seen.some((v, k) => !Object.is(v, saved[k]))) expect([x, y, ...seen]).toEqual([x, y, ...saved]);
        if (before[0] !== after[0]) touched++;
      }
    expect(touched).toBeGreaterThan(3000);
  });

  test.each(['half', 'float'] as const)(
    'with nothing on, a %s file leaves as it came, and untouched pixels always do',
    async (type) => {
      const bytes = type === 'half' ? sampleBytes('all.exr') : floatCopy(sampleBytes('all.exr'));
      const source = readExr(bytes);
      const { image } = await exported('all.exr', bytes, [{ ...CHANGES[0]!, on: false }]);
      image.channels.forEach((c, i) => {
        const was = source.channels[i]!;
        expect([c.name, c.type]).toEqual([was.name, was.type]);
        expect(Buffer.compare(Buffer.from(c.data.buffer), Buffer.from(was.data.buffer))).toBe(0);
      });
    },
  );

  test('half is chosen, and what it cannot hold is told', async () => {
    const bytes = floatCopy(sampleBytes('all.exr'));
    const bright = [change('bees', 'bees/*', 20)];
    const half = await exported('all.exr', bytes, bright, 'corrected-exr-half');
    expect(half.image.channels.find((c) => c.name === 'R')!.type).toBe('half');
    expect(half.notes.join()).toMatch(/^\d+ pixels are brighter than half/);
    expect((await exported('all.exr', bytes, bright)).notes).toEqual([]);
  });
});

describe('opening', () => {
  test('the picture comes before its IDs, and of those the one in use first', async () => {
    const { session, events, told, rest } = sessionOf({ a: sampleBytes('all.exr') });
    session.show(view({ layer: 'CryptoMaterial' }));
    await session.open({ files: [file('a')] }, undefined, events);
    await rest();
    const first = told.order.indexOf('CryptoMaterial');
    expect(told.order[0]).toBe('opened');
    expect(told.order.slice(0, first)).toContain('view');
    expect(first).toBeLessThan(told.order.indexOf('CryptoObject'));
    expect([...told.tiles.keys()].filter((k) => k.startsWith('view')).length).toBe(
      tilesAcross(640) * tilesAcross(360),
    );
    // Nobody wanted the others.
    expect([...told.tiles.keys()].some((k) => !k.startsWith('view'))).toBe(false);
  });

  test('a question that needs IDs waits for them; a change does not show half of its mask', async () => {
    const { session, events, rest } = sessionOf({ a: sampleBytes('all.exr') });
    session.show(view({ changes: CHANGES }));
    const opening = session.open({ files: [file('a')] }, undefined, events);
    let probe: Probe | undefined;
    while (!probe) {
      probe = await session.ask({ ask: 'probe', x: 320, y: 300, layer: 'CryptoMaterial' });
      await new Promise((r) => setTimeout(r, 1));
    }
    expect(probe.layers.find((l) => l.layer === 'CryptoMaterial')!.ids.length).toBeGreaterThan(0);
    await opening;
    await rest();
  });

  test('a stored index spares the channels, a damaged one costs nothing but time', async () => {
    const bytes = sampleBytes('all.exr');
    const frame = await openFrame([file('a')], undefined, async () => bytes);
    const stored = new Map<string, Uint8Array>();
    for (const layer of frame.layers) stored.set(layer.name, packIndex(await frame.index(layer), nodeZlib));
    // A picture without its ID channels' blocks could not be indexed: here the kept one is what is used.
    const marked = await frame.index(frame.layers[0]!);
    marked.coverageOf[0] = 12345;
    stored.set(frame.layers[0]!.name, packIndex(marked, nodeZlib));
    const asked: string[] = [];
    const open = async (change: (b: Uint8Array) => Uint8Array) => {
      const { session, events, told } = sessionOf(
        { a: bytes },
        {
          storedIndex: async (_url, layer) => {
            asked.push(layer);
            return change(stored.get(layer)!);
          },
        },
      );
      session.show(view());
      await session.open({ files: [file('a')], indexes: '/indexes' }, undefined, events);
      return told.layers.find((l) => l.name === frame.layers[0]!.name)!;
    };
    expect((await open((b) => b)).members.some((m) => m.coverage === 12345)).toBe(true);
    const own = castOf(frame.layers[0]!, await frame.index(frame.layers[0]!));
    expect((await open((b) => new Uint8Array(deflateSync(b)))).members).toEqual(own.members);
    expect(asked).toHaveLength(4);
  });

  test('a step to another frame keeps the view; the newest one wins', async () => {
    const { session, events, told, rest } = sessionOf({
      one: sampleBytes('all.exr'),
      two: floatCopy(sampleBytes('all.exr')),
    });
    session.show(view({ changes: CHANGES, openChange: 'bees' }));
    const files = [file('one', 1), file('two', 2)];
    const first = session.open({ files }, 1, events);
    await expect(Promise.all([first, session.open({ files }, 2, events)])).rejects.toThrow(ClosedError);
    await rest();
    while (told.layers.length < 2) await new Promise((r) => setTimeout(r, 20));
    await rest();
    const probe = (await session.ask({ ask: 'probe', x: 3, y: 3 }))!;
    expect(probe.before[0]).toBeCloseTo(0.1 + (((3 * 640 + 3) * 2654435761) % 1000) / 997, 5);
    expect(probe.mask).toBe(0);
  });
});

describe('nothing hangs', () => {
  test('closing rejects what waits', async () => {
    const { session, events } = sessionOf(
      { a: sampleBytes('all.exr') },
      {
        storedIndex: (_u, _l, _f, signal) =>
          new Promise((_, reject) => signal.addEventListener('abort', () => reject(new Error('aborted')))),
      },
    );
    session.show(view());
    const opening = session.open({ files: [file('a')], indexes: '/never' }, undefined, events);
    await new Promise((r) => setTimeout(r, 400));
    const question = session.ask({ ask: 'probe', x: 1, y: 1, layer: 'CryptoObject' });
    setTimeout(() => session.close(), 20);
    await expect(question).rejects.toThrow(ClosedError);
    await expect(opening).rejects.toThrow();
  });

  test('a file that is no picture is told', async () => {
    const { session, events } = sessionOf({ a: new Uint8Array(100) });
    await expect(session.open({ files: [file('a')] }, undefined, events)).rejects.toThrow(
      'not an OpenEXR file',
    );
  });

  test('a layer that cannot be read is told; picture and other layers are there, and a waiting question ends', async () => {
    const { session, events, told, rest } = sessionOf({ a: sampleBytes('all.exr') });
    // Both at once are refused, and then the first by itself.
    let refused = 0;
    const halfBroken = sessionOf(
      { a: sampleBytes('all.exr') },
      {
        crew: {
          ...alone,
          share: (work, input, options) =>
            work.kind === 'id-blocks' && ++refused < 3
              ? Promise.reject(new Error('There is no memory left.'))
              : alone.share(work, input, options),
        },
      },
    );
    halfBroken.session.show(view());
    await halfBroken.session.open({ files: [file('a')] }, undefined, halfBroken.events);
    await halfBroken.rest();
    expect(halfBroken.told.failed).toEqual(['CryptoObject']);
    expect(halfBroken.told.layers.map((l) => l.name)).toEqual(['CryptoMaterial']);
    expect([...halfBroken.told.tiles.keys()].some((key) => key.startsWith('view '))).toBe(true);
    const there = await halfBroken.session.ask({ ask: 'probe', x: 1, y: 1, layer: 'CryptoObject' });
    expect(there!.layers.map((l) => l.layer)).toEqual(['CryptoMaterial']);
    const broken = sessionOf(
      { a: sampleBytes('all.exr') },
      {
        crew: {
          ...alone,
          share: (work, input, options) =>
            work.kind === 'id-blocks'
              ? Promise.reject(new Error('There is no memory left.'))
              : alone.share(work, input, options),
        },
      },
    );
    broken.session.show(view());
    const opening = broken.session.open({ files: [file('a')] }, undefined, broken.events);
    await opening;
    expect(broken.told.failed).toEqual(['CryptoObject', 'CryptoMaterial']);
    const probe = await broken.session.ask({ ask: 'probe', x: 1, y: 1, layer: 'CryptoObject' });
    expect(probe!.layers).toEqual([]);
    session.show(view());
    await session.open({ files: [file('a')] }, undefined, events);
    await rest();
    expect(told.failed).toEqual([]);
  });
});

test('a pass that cannot be read is told on its change; the rest of the change is there', async () => {
  let broken = false;
  const { session, events, told, rest } = sessionOf(
    { a: sampleBytes('all.exr') },
    {
      crew: {
        ...alone,
        share: (work, input, options) =>
          work.kind === 'exr-blocks' && broken
            ? Promise.reject(new Error('The file has gone.'))
            : alone.share(work, input, options),
      },
    },
  );
  session.show(view());
  await session.open({ files: [file('a')] }, undefined, events);
  await rest();
  broken = true;
  const [bees] = CHANGES;
  const byPass = { id: 'p', kind: 'multiply-by-pass', on: true, values: { pass: 'depth' } };
  session.show(view({ changes: [{ ...bees!, corrections: [...bees!.corrections, byPass] }] }));
  await rest();
  expect(told.failures).toEqual([
    { changeId: 'bees', kind: 'multiply-by-pass', message: 'The file has gone.' },
  ]);
  expect(told.failed).toEqual([]);
  expect(told.sent).toBeGreaterThan(tilesAcross(640) * tilesAcross(360));
});

test('computing that fails as a whole is told, and the session goes on', async () => {
  let broken = true;
  const { session, events, told, rest } = sessionOf(
    { a: sampleBytes('all.exr') },
    {
      crew: {
        ...alone,
        share: (work, input, options) =>
          work.kind === 'tiles' && broken
            ? Promise.reject(new Error('There is no memory left.'))
            : alone.share(work, input, options),
      },
    },
  );
  session.show(view({ changes: CHANGES }));
  await session.open({ files: [file('a')] }, undefined, events);
  await rest();
  expect(told.failed).toContain('There is no memory left.');
  broken = false;
  const moved = [change('bees', 'bees/*', 2), ...CHANGES.slice(1)];
  session.show(view({ changes: moved, openChange: 'bees' }));
  await rest();
  const { image } = await exported('all.exr', sampleBytes('all.exr'), moved);
  const red = image.channels.find((c) => c.name === 'R')!.data;
  let seen = 0;
  for (let y = 0; y < 360; y += 2)
    for (let x = 0; x < 640; x += 2) {
      const { after, layers } = (await session.ask({ ask: 'probe', x, y })) as Probe;
      if (!layers[0]!.ids[0]?.name.startsWith('bees/')) continue;
      seen++;
      expect(floatsToHalves(after)[0]).toBe(red[y * 640 + x]);
    }
  expect(seen).toBeGreaterThan(20);
});

test('from afar smaller tiles are sent; close up the whole ones follow, and nothing is sent twice', async () => {
  const { session, events, told, rest } = sessionOf({ a: sampleBytes('all.exr') });
  const count = tilesAcross(640) * tilesAcross(360);
  session.show(view({ scale: 0.3 }));
  await session.open({ files: [file('a')] }, undefined, events);
  await rest();
  expect([...told.tiles.values()].map((t) => t.data.length)).toEqual(Array(count).fill(4 * 32 * 32));
  const sent = [told.sent];
  for (const scale of [1, 0.3, 1]) {
    session.show(view({ scale }));
    await rest();
    sent.push(told.sent);
  }
  expect(sent).toEqual([count, 2 * count, 2 * count, 2 * count]);
  expect(told.tiles.get('view 7 0')!.known).toBe(0b11);
  // What a change touches is sent as it is looked at, and once more when it is looked at otherwise.
  const changes = CHANGES.slice(0, 1).map((c) => ({ ...c, plainEdges: true }));
  session.show(view({ changes }));
  await rest();
  const touched = told.sent - 2 * count;
  expect(touched).toBeGreaterThan(0);
  expect(touched).toBeLessThan(count);
  session.show(view({ changes, scale: 0.3 }));
  await rest();
  expect(told.sent).toBe(2 * count + 2 * touched);
});

test('members are found by a line around them and by how far away they are, and shown together', async () => {
  const { session, events, told, rest } = sessionOf({ a: sampleBytes('all.exr') });
  await session.open({ files: [file('a')] }, undefined, events);
  await rest();
  expect(told.opened[0]!.hasDepth).toBe(true);
  const layer = 'CryptoObject';
  const frame = [0, 0, 640, 0, 640, 360, 0, 360];
  const all = await session.ask({ ask: 'membersWithin', layer, line: frame, which: 'inside' });
  // What no ID covers is nothing that can be taken.
  const things = told.layers.find((l) => l.name === layer)!.members.filter((m) => m.name !== 'nothing');
  expect(all.map((m) => m.name).sort()).toEqual(things.map((m) => m.name).sort());
  const idOf = (name: string) => things.find((m) => m.name === name)!.id;
  const ids = [idOf('table/smoker')];
  const behind = await session.ask({ ask: 'membersByDepth', layer, ids, way: 'behind' });
  const before = await session.ask({ ask: 'membersByDepth', layer, ids, way: 'before' });
  expect(behind.length).toBeGreaterThan(0);
  expect(behind.filter((m) => before.some((b) => b.id === m.id))).toEqual([]);
  expect(behind.length + before.length).toBeLessThan(things.length);
  const outline = (...names: string[]) =>
    session.ask({ ask: 'memberOutline', layer, ids: names.map(idOf) }).then((o) => o.length);
  const apart = [await outline('bees/bee_001'), await outline('table/smoker')];
  expect(await outline('bees/bee_001', 'table/smoker')).toBe(apart[0]! + apart[1]!);
});

test('the mask of an open heading is seen although nothing stands under it, and a cut-out on its ground', async () => {
  const { session, events, told, rest } = sessionOf({ a: sampleBytes('all.exr') });
  const openHeading = {
    ...noMask(),
    id: 'h',
    words: '',
    on: true,
    fence: [{ id: 'f', kind: 'rectangle', on: true, values: { x: 25, y: 50, width: 50, height: 200 } }],
  };
  const shown = (more: Partial<ViewState>) =>
    view({
      openHeading,
      openChange: 'h',
      wanted: { before: false, dim: false, mask: true, outline: true, warn: false },
      ...more,
    });
  session.show(shown({}));
  await session.open({ files: [file('a')] }, undefined, events);
  await rest();
  // All of the left half, nothing of the right.
  const at = (surface: string, tile: number) => [...told.tiles.get(`${surface} ${tile} 0`)!.data.slice(0, 3)];
  expect(at('mask', 0)).toEqual([255, 255, 255]);
  expect(at('mask', 9)).toEqual([0, 0, 0]);
  session.show(shown({ mode: 'cutout', ground: 'white' }));
  await rest();
  expect(at('view', 9)).toEqual([255, 255, 255]);
  const red = Uint8ClampedArray.from({ length: 4 * 640 * 360 }, (_, i) =>
    i % 4 === 0 || i % 4 === 3 ? 200 : 10,
  );
  await session.ask({ ask: 'layUnder', data: red });
  session.show(shown({ mode: 'cutout', ground: 'picture' }));
  await rest();
  expect(at('view', 9)).toEqual([200, 10, 10]);
  expect(at('view', 0)).not.toEqual([200, 10, 10]);
});

test('of a mask that changes a little only that is sent; its outline waits until it is wanted', async () => {
  const { session, events, told, rest } = sessionOf({ a: sampleBytes('all.exr') });
  const open = { ...CHANGES[0]!, id: 'bees' };
  const shown = (more: Partial<typeof open>, outline = true) =>
    view({
      changes: [{ ...open, ...more }],
      openChange: 'bees',
      wanted: { before: false, dim: true, mask: true, outline, warn: false },
    });
  session.show(shown({}));
  await session.open({ files: [file('a')] }, undefined, events);
  await rest();
  const before = told.sent;
  // A dab in one corner, far from everything that is picked.
  const dab = { way: 'add' as const, size: 1, soft: 0, points: [[0.01, 0.01] as const] };
  session.show(shown({ brush: [dab] }, false));
  await rest();
  const count = told.outlines.length;
  // The picture, and again when its mixed pixels are taken apart; its dimming, the mask: each where the dab is.
  expect(told.sent - before).toBeLessThanOrEqual(4);
  expect(told.sent - before).toBeGreaterThanOrEqual(2);
  session.show(shown({ brush: [dab] }));
  await rest();
  expect(told.outlines).toHaveLength(count + 1);
  expect(told.outlines.at(-1)).toBeGreaterThan(told.outlines.at(-2)!);
});

test('with several threads the same is seen', async () => {
  const { crew, end } = nodeCrew(3);
  const many = sessionOf({ a: sampleBytes('all.exr') }, { crew });
  const one = sessionOf({ a: sampleBytes('all.exr') });
  for (const { session, events, rest } of [many, one]) {
    session.show(
      view({
        changes: CHANGES,
        openChange: 'bees',
        wanted: { before: true, dim: true, mask: false, outline: true, warn: false },
      }),
    );
    await session.open({ files: [file('a')] }, undefined, events);
    await rest();
    // A slider: many values, the last of which stays.
    for (let i = 0; i < 30; i++) {
      session.show(
        view({ changes: [change('bees', 'bees/*', i / 10), ...CHANGES.slice(1)], openChange: 'bees' }),
      );
      await new Promise((r) => setTimeout(r, 2));
    }
    await rest();
  }
  expect(many.told.tiles.size).toBe(one.told.tiles.size);
  for (const [key, tile] of one.told.tiles) expect(many.told.tiles.get(key)!.data).toEqual(tile.data);
  await end();
});
