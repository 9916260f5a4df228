import { encode } from 'fast-png';
import { sampleBytes } from '../../../core/test/fixtures/samples.ts';
import { noMask, parseCube, type ListedChange, type StepUse } from '@zesty-crow/core';
import { changed, file, floatCopy, sessionOf, view } from '../../test/session.ts';

/** Looking closely at an open picture: what it is compared with, warnings, scopes, samples. */
const bytes = sampleBytes('all.exr');
const step = (kind: string, values: StepUse['values']): StepUse => ({ id: kind, kind, on: true, values });
const change = (id: string, member: string, ...corrections: StepUse[]): ListedChange => ({
  ...noMask(),
  id,
  words: id,
  on: true,
  done: false,
  plainEdges: true,
  who: [{ mode: 'with', layer: 'CryptoObject', member }],
  corrections,
});
const SMOKER = change('smoker', 'table/smoker', step('exposure', { stops: 2 }));
const DARKER = change('bees', 'bees/*', step('exposure', { stops: -2 }));
const BEES = { ...DARKER, who: DARKER.who.map((p) => ({ ...p, rule: true })) };
const wanted = { before: true, dim: false, mask: false, outline: false, warn: true };
const open = async (changes: ListedChange[], more: Parameters<typeof view>[0] = {}, env = {}) => {
  const made = sessionOf({ 'all.exr': bytes, 'other.exr': floatCopy(bytes) }, env);
  made.session.show(view({ changes, openChange: changes[0]!.id, wanted, ...more }));
  await made.session.open({ files: [file('all.exr')] }, undefined, made.events);
  await made.rest();
  const surface = (name: string) =>
    Buffer.concat(
      [...made.told.tiles].flatMap(([key, t]) => (key.startsWith(`${name} `) ? [Buffer.from(t.data)] : [])),
    );
  return { ...made, surface };
};

test('before is as rendered, all but the open change, or one alone', async () => {
  const { session, rest, surface } = await open([SMOKER, BEES]);
  const rendered = surface('before');
  const all = surface('view');
  expect(Buffer.compare(rendered, all)).not.toBe(0);
  const show = async (against: Parameters<typeof view>[0]) => {
    session.show(view({ changes: [SMOKER, BEES], openChange: 'smoker', wanted, ...against }));
    await rest();
    return surface('before');
  };
  const without = await show({ against: { kind: 'without' } });
  const onlyBees = await show({ against: { kind: 'only', changeId: 'bees' } });
  expect(Buffer.compare(without, onlyBees)).toBe(0);
  expect(Buffer.compare(without, rendered)).not.toBe(0);
  expect(Buffer.compare(await show({ against: { kind: 'only', changeId: 'smoker' } }), without)).not.toBe(0);
  // With nothing else on, without the open one is as rendered.
  session.show(view({ changes: [SMOKER], openChange: 'smoker', wanted, against: { kind: 'without' } }));
  await rest();
  expect(Buffer.compare(surface('before'), rendered)).toBe(0);
  expect(Buffer.compare(await show({}), rendered)).toBe(0);
});

test('before has clean edges where the picture has: without a change that is off nothing differs', async () => {
  const clean = { ...SMOKER, plainEdges: false };
  const nothing = { ...BEES, on: false };
  const { surface } = await open([clean, nothing], {
    openChange: 'bees',
    mode: 'difference',
    against: { kind: 'without' },
  });
  expect(surface('view').every((v, i) => (i % 4 === 3 ? v === 255 : v === 0))).toBe(true);
});

test('a difference is black where nothing changed, and another version can be what before is', async () => {
  const { session, rest, surface } = await open([SMOKER], { mode: 'difference' });
  const lit = (b: Buffer) => b.reduce((n, v, i) => n + (i % 4 !== 3 && v > 0 ? 1 : 0), 0);
  const own = lit(surface('view'));
  expect(own).toBeGreaterThan(1000);
  expect(own).toBeLessThan(0.1 * surface('view').length);
  const version = { files: [file('other.exr')] };
  await session.ask({ ask: 'readOther', key: 'v2', version, frame: undefined });
  session.show(
    view({
      changes: [SMOKER],
      openChange: 'smoker',
      wanted,
      mode: 'difference',
      against: { kind: 'version', key: 'v2' },
    }),
  );
  await rest();
  // Its pixels are all others.
  expect(lit(surface('view'))).toBeGreaterThan(0.5 * surface('view').length);
});

test('warnings are counted: nothing changes outside the masks unless it spreads', async () => {
  const glow = change('smoker', 'table/smoker', step('glow', { strength: 100, threshold: 0.05, size: 12 }));
  for (const [changes, spreads] of [
    [[SMOKER], false],
    [[glow], true],
  ] as const) {
    const { told } = await open([...changes], { warnings: ['outside', 'clipped', 'negative'] });
    await new Promise((r) => setTimeout(r, 300));
    const counts = told.warnings.at(-1)!;
    expect(counts['outside']! > 0).toBe(spreads);
    expect(counts['negative']).toBe(0);
  }
});

test('scopes count the mask, samples tell before and after, and means are those of members', async () => {
  const { session } = await open([SMOKER]);
  const of = async (where: 'frame' | { changeId: string } | { x: number; y: number; side: number }) =>
    (await session.ask({ ask: 'scope', name: 'histogram', where, most: Infinity }))!.planes[0]!.reduce(
      (a, b) => a + b,
      0,
    );
  expect(await of('frame')).toBe(640 * 360);
  expect(await of({ x: 100, y: 100, side: 33 })).toBe(33 * 33);
  const part = await of({ changeId: 'smoker' });
  expect(part).toBeGreaterThan(100);
  expect(part).toBeLessThan(640 * 360 * 0.2);
  const [pixel, whole, none] = await session.ask({
    ask: 'samples',
    places: [{ x: 5, y: 5, side: 3 }, { changeId: 'smoker' }, { changeId: 'nobody' }],
  });
  expect(pixel!.after).toEqual(pixel!.before);
  whole!.after.forEach((v, k) => expect(v / whole!.before[k]!).toBeGreaterThan(3));
  expect(none).toBeUndefined();
  const probe = await session.ask({
    ask: 'meanInVersion',
    version: { files: [file('all.exr')] },
    frame: undefined,
    change: SMOKER,
  });
  whole!.before.forEach((v, k) => expect(Math.abs(probe![k]! / v - 1)).toBeLessThan(0.2));
});

test('what a preset would do is shown without doing it', async () => {
  const { session, surface } = await open([SMOKER]);
  const before = surface('view');
  const bright = (await session.ask({ ask: 'tried', change: SMOKER, side: 40 }))!;
  const dark = (await session.ask({
    ask: 'tried',
    change: { ...SMOKER, corrections: [step('exposure', { stops: -3 })] },
    side: 40,
  }))!;
  expect(Math.max(bright.width, bright.height)).toBe(40);
  const sum = (p: typeof bright) => p.data.reduce((a, b) => a + b, 0);
  expect(sum(bright)).toBeGreaterThan(1.2 * sum(dark));
  expect(Buffer.compare(surface('view'), before)).toBe(0);
});

test('states of the list are computed one after the other, each as if it were the list, and compared', async () => {
  const dark = { ...SMOKER, corrections: [step('exposure', { stops: -3 })] };
  const { session, rest, surface } = await open([SMOKER, BEES]);
  const side = 4096;
  const state = async (...changes: ListedChange[]) =>
    Buffer.from((await session.ask({ ask: 'stateOf', changes, side }))!.data);
  const [base, darker] = [await state(SMOKER, BEES), await state(dark, BEES)];
  expect(Buffer.compare(base, darker)).not.toBe(0);
  // What came between leaves no trace.
  expect(Buffer.compare(await state(SMOKER, BEES), base)).toBe(0);
  const alone = await open([dark, BEES]);
  expect(
    Buffer.compare(
      Buffer.from((await alone.session.ask({ ask: 'stateOf', changes: [dark, BEES], side }))!.data),
      darker,
    ),
  ).toBe(0);
  const shownDark = alone.surface('view');
  session.show(
    view({
      changes: [SMOKER, BEES],
      openChange: 'smoker',
      wanted,
      against: { kind: 'variant', key: 'dark' },
      othersChanges: [dark, BEES],
    }),
  );
  await rest();
  expect(Buffer.compare(surface('before'), shownDark)).toBe(0);
});

test('a member that this version calls otherwise is proposed by what it is like in the one before', async () => {
  // A name as long as the other: the file stays sound.
  const text = Buffer.from(bytes).toString('latin1').replaceAll('table/smoker', 'table/censer');
  const made = sessionOf({ 'all.exr': bytes, 'v2.exr': new Uint8Array(Buffer.from(text, 'latin1')) });
  made.session.show(view({ changes: [SMOKER], openChange: 'smoker', wanted }));
  await made.session.open({ files: [file('v2.exr')] }, undefined, made.events);
  await made.rest();
  const owners = [SMOKER, BEES].map(({ id, who }) => ({ id, who }));
  const ask = (version?: { files: ReturnType<typeof file>[] }) =>
    made.session.ask({ ask: 'relink', version, frame: undefined, owners });
  const { picks, fresh } = (await ask({ files: [file('all.exr')] }))!;
  expect(picks.map((p) => [p.owner, p.fate])).toEqual([
    ['smoker', 'lost'],
    ['bees', 'found'],
  ]);
  expect(picks[0]!.proposals[0]).toMatchObject({ name: 'table/censer' });
  expect(picks[0]!.proposals[0]!.like.place).toBeGreaterThan(0.99);
  expect(picks[0]!.likely).toBe(true);
  expect(fresh).toEqual([{ layer: 'CryptoObject', names: ['table/censer'] }]);
  // Without it only names tell.
  expect((await ask())!.picks[0]!.proposals.map((p) => p.name)).not.toContain('bees/bee_1');
});

test('a table shows the picture otherwise, and changes no value', async () => {
  const { session, rest, surface } = await open([SMOKER]);
  const plain = surface('view');
  const black = parseCube(`LUT_3D_SIZE 2\n${'0 0 0\n'.repeat(8)}`);
  await session.ask({ ask: 'useTable', table: black });
  const display = { stops: 0, gamma: 1, transform: 'srgb', table: 'srgb' as const };
  session.show(view({ changes: [SMOKER], openChange: 'smoker', wanted, display }));
  await rest();
  expect(surface('view').every((v, i) => (i % 4 === 3 ? v === 255 : v === 0))).toBe(true);
  session.show(view({ changes: [SMOKER], openChange: 'smoker', wanted }));
  await rest();
  expect(Buffer.compare(surface('view'), plain)).toBe(0);
});

test('a picture file is laid on a part once it is there; one that is lost is told', async () => {
  const data = Uint8Array.from({ length: 3 * 16 * 16 }, (_, i) => [0, 255, 0][i % 3]!);
  const png = encode({ width: 16, height: 16, data, channels: 3, depth: 8 });
  const corners = [
    [0, 0],
    [100, 0],
    [100, 100],
    [0, 100],
  ] as const;
  const laid = change(
    'smoker',
    'table/smoker',
    step('place-picture', { picture: { file: 'f', name: 'label.png' }, corners }),
  );
  const { session } = await open([laid], {}, { readPicture: () => Promise.resolve(png) });
  const [part] = await session.ask({ ask: 'samples', places: [{ changeId: 'smoker' }] });
  expect(changed(part!)).toBe(true);
  expect(part!.after[1]).toBeGreaterThan(0.8);
  expect(part!.after[0]).toBeLessThan(0.1);
  const lost = await open([laid], {}, { readPicture: () => Promise.reject(new Error('label.png is gone.')) });
  expect(lost.told.failures).toMatchObject([{ changeId: 'smoker', message: 'label.png is gone.' }]);
});

test('another version can be compared with the same changes on, clean edges and all', async () => {
  const clean = { ...SMOKER, plainEdges: false };
  const { session, rest, surface } = await open([clean, BEES]);
  const version = { files: [file('other.exr')] };
  await session.ask({ ask: 'readOther', key: 'v2', version, frame: undefined });
  const show = async (changes: ListedChange[]) => {
    const against = { kind: 'version', key: 'v2', changed: true } as const;
    session.show(view({ changes, openChange: 'smoker', wanted, against }));
    await rest();
    return surface('before');
  };
  const there = async (changes: ListedChange[]) => {
    const other = sessionOf({ 'other.exr': floatCopy(bytes) });
    other.session.show(view({ changes, openChange: 'smoker', wanted }));
    await other.session.open(version, undefined, other.events);
    await other.rest();
    return Buffer.concat(
      [...other.told.tiles].flatMap(([key, t]) => (key.startsWith('view ') ? [Buffer.from(t.data)] : [])),
    );
  };
  expect(Buffer.compare(await show([clean, BEES]), await there([clean, BEES]))).toBe(0);
  // What is edited meanwhile is edited there, too.
  const edited = [{ ...clean, corrections: [step('exposure', { stops: -1 })] }, BEES];
  expect(Buffer.compare(await show(edited), await there(edited))).toBe(0);
});

test('a frame made in the background is the frame as it is when it is opened', async () => {
  const clean = { ...SMOKER, plainEdges: false };
  const changes = [clean, BEES];
  const side = 4096;
  const made = await open(changes);
  const version = { files: [file('other.exr')] };
  const ask = { ask: 'frameState', version, frame: 1, changes, side } as const;
  const state = await made.session.ask({ ...ask, changes: [...changes] });
  const opened = sessionOf({ 'other.exr': floatCopy(bytes) });
  opened.session.show(view({ changes, openChange: 'smoker', wanted }));
  await opened.session.open(version, undefined, opened.events);
  await opened.rest();
  const whole = await opened.session.ask({ ask: 'stateOf', changes: [...changes], side });
  expect(Buffer.compare(Buffer.from(state!.picture.data), Buffer.from(whole!.data))).toBe(0);
  // Its area is what the truth says of the smoker.
  const { area } = state!.parts['smoker']!;
  const [own] = opened.told.layers.flatMap((l) => l.members.filter((m) => m.name === 'table/smoker'));
  expect((area / 100) * state!.picture.width * state!.picture.height).toBeCloseTo(own!.coverage, 1);
});

test('a frame that is made for nobody who waits is given up for whatever is done', async () => {
  const files: Record<string, Uint8Array> = { 'all.exr': bytes, 'other.exr': floatCopy(bytes) };
  let begun: () => void = () => undefined;
  const reading = new Promise<void>((resolve) => (begun = resolve));
  const made = await open(
    [SMOKER],
    {},
    {
      read: async ({ name }: { name: string }) => {
        if (name === 'other.exr') begun();
        return files[name]!;
      },
    },
  );
  const version = { files: [file('other.exr')] };
  const asked = made.session.ask({ ask: 'frameState', version, frame: 1, changes: [SMOKER], side: 64 });
  // It is on its way.
  await reading;
  made.session.show(view({ changes: [BEES], openChange: 'bees', wanted }));
  await expect(asked).resolves.toBeUndefined();
  await made.rest();
  // Asked again, it comes.
  const again = await made.session.ask({ ask: 'frameState', version, frame: 1, changes: [SMOKER], side: 64 });
  expect(again!.parts['smoker']!.area).toBeGreaterThan(0);
});
