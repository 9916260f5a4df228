/** Reading files, ID index, masks and corrections: the figures of opening a picture and correcting it. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { deflateSync } from 'node:zlib';
import { ChangeStack } from '../src/apply/change-stack.ts';
import { computeTiles, TileComputer } from '../src/apply/compute-tiles.ts';
import { castOf } from '../src/cast/cast.ts';
import type { Change } from '../src/changes/change.ts';
import { CORRECTIONS } from '../src/corrections/registry.ts';
import type { Crew } from '../src/crew/work.ts';
import { readExr, readExrBy } from '../src/formats/exr/read.ts';
import { writeExr } from '../src/formats/exr/write.ts';
import { buildIdIndex, buildIdIndexBy } from '../src/idindex/id-index.ts';
import { MemberMask } from '../src/masks/who/member-mask.ts';
import type { RgbPlanes } from '../src/planes/rgb-planes.ts';
import { nodeZlib } from '../node/zlib.ts';
import { fileOf, roundThings, WALL } from './frames.ts';
import type { ExrImage } from '../src/formats/exr/types.ts';
import { time, type Tell } from './report.ts';
import { workingValues } from './values.ts';

const RUNS = 3;

/** Reading and writing files of a picture, against the reference tool. */
export async function fileFigures(
  tell: Tell,
  image: ExrImage,
  crew: Crew,
  control: number,
  runs = RUNS,
): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'zesty-crow-bench-'));
  const { dataWindow } = image.header;
  const size = `${dataWindow.xMax + 1}x${dataWindow.yMax + 1}`;
  const tiny = { xMin: 0, yMin: 0, xMax: 0, yMax: 0 };
  writeFileSync(
    join(folder, 'tiny.exr'),
    writeExr({
      dataWindow: tiny,
      channels: image.channels.map((c) => ({ ...c, data: c.data.slice(0, 1) as typeof c.data })),
    }),
  );
  const tool = (file: string) =>
    time(
      () => execFileSync('oiiotool', ['--threads', '1', '-i:now=1', join(folder, file)], { stdio: 'ignore' }),
      runs,
    );
  const start = await tool('tiny.exr');
  for (const [compression, goal] of [
    ['zip', 0.5],
    ['piz', 1],
  ] as const) {
    const bytes = fileOf(image, compression);
    const shared = new Uint8Array(crew.allocate(bytes.length));
    shared.set(bytes);
    writeFileSync(join(folder, `${compression}.exr`), bytes);
    // Of a tiny picture it is lost in the noise of starting.
    const theirs = Math.max(0.1, (await tool(`${compression}.exr`)) - start);
    const ours = await time(() => readExr(bytes), runs);
    const few = await time(() => readExr(bytes, { channels: (c) => !c.name.includes('.') }), runs);
    const many = await time(() => readExrBy(crew, shared), runs);
    const name = `read ${size}, ${image.channels.length} channels, ${compression.toUpperCase()}`;
    const against = `oiiotool, one thread, ${theirs.toFixed(0)} ms`;
    tell(
      { name, value: ours / theirs, unit: 'x', goal, better: 'less', against },
      { name: `${name}, its own 4 only`, value: few / theirs, unit: 'x', better: 'less', against },
      {
        name: `${name}, ${crew.size} threads`,
        value: ours / many / control,
        unit: 'of gain',
        goal: 0.9,
        better: 'more',
        against: `a plain loop gains ${control.toFixed(2)}, this ${(ours / many).toFixed(2)}`,
      },
    );
  }
  rmSync(folder, { recursive: true });
}

/** What each deflate level costs and saves: how the level for writing was chosen. */
export async function levelFigures(tell: Tell, image: ExrImage): Promise<void> {
  const input = { ...image.header, channels: image.channels };
  let first: { ms: number; bytes: number } | undefined;
  for (const level of [1, 2, 3, 4, 6]) {
    const zlib = { ...nodeZlib, deflate: (d: Uint8Array) => deflateSync(d, { level }) };
    let bytes = 0;
    const ms = await time(() => void (bytes = writeExr(input, { zlib }).length), 1);
    first ??= { ms, bytes };
    tell({
      name: `write ZIP, deflate level ${level}`,
      value: ms / first.ms,
      unit: 'x',
      better: 'less',
      against: `level 1; the file is ${((100 * bytes) / first.bytes).toFixed(0)} % of its`,
    });
  }
}

/** ID index and masks of a frame of round things. */
export async function indexFigures(
  tell: Tell,
  width: number,
  height: number,
  crew: Crew,
  control: number,
): Promise<void> {
  const planes = roundThings(width, height, 400);
  const plane = new Float32Array(width * height).fill(1);
  const target = new Float32Array(width * height);
  const copy = await time(() => target.set(plane), 9);
  const against = `copying a plane, ${copy.toFixed(1)} ms`;
  const one = await time(() => buildIdIndex(planes), RUNS);
  const many = await time(() => buildIdIndexBy(crew, planes), RUNS);
  const index = buildIdIndex(planes);
  const ids = Array.from(index.ids).filter((id) => id !== WALL && id !== 0);
  const [some, more] = [new Set(ids.slice(0, 20)), new Set(ids.slice(0, 21))];
  const mask = new MemberMask(index);
  const adding: number[] = [];
  for (let i = 0; i < 41; i++) {
    mask.setMembers(some);
    const start = performance.now();
    mask.setMembers(more);
    adding.push(performance.now() - start);
  }
  const add = adding.sort((a, b) => a - b)[20]!;
  const bytes = index.slot.length * 16 + index.tiles.byteLength;
  tell(
    { name: 'ID index with areas', value: one / copy, unit: 'copies', goal: 20, better: 'less', against },
    {
      name: `ID index, ${crew.size} threads`,
      value: one / many / control,
      unit: 'of gain',
      goal: 0.9,
      better: 'more',
      against: `a plain loop gains ${control.toFixed(2)}, this ${(one / many).toFixed(2)}`,
    },
    {
      name: 'adding one member of 400',
      value: add / copy,
      unit: 'copies',
      goal: 0.25,
      better: 'less',
      against,
    },
    {
      name: 'memory of the index',
      value: bytes / (width * height),
      unit: 'B/pixel',
      better: 'less',
      against: '48 of its ranks',
    },
  );
}

const change = (id: string, members: string[], values: Record<string, number>): Change => ({
  id,
  words: id,
  on: true,
  done: false,
  edge: [],
  fence: [],
  brush: [],
  plainEdges: false,
  who: members.map((member) => ({ mode: 'with', layer: 'things', member })),
  corrections: [
    { id: `${id}1`, kind: 'hue-saturation-lightness', on: true, values },
    { id: `${id}2`, kind: 'exposure', on: true, values: { stops: 0.3 } },
  ],
});

/** Computing tiles: the kernel against plain code, a tenth of the frame against all of it, threads. */
export async function correctionFigures(
  tell: Tell,
  width: number,
  height: number,
  crew: Crew,
  control: number,
): Promise<void> {
  const noise = (seed: number) => {
    const plane = new Float32Array(crew.allocate(4 * width * height));
    for (let p = 0; p < plane.length; p++) plane[p] = 0.02 + ((p * 7919 + seed) % 1009) / 1200;
    return plane;
  };
  const source: RgbPlanes = { width, height, r: noise(1), g: noise(300), b: noise(700) };
  const layer = castOf(
    { name: 'things', manifest: { nameOf: new Map(), clashes: [], repaired: 0 } },
    buildIdIndex(roundThings(width, height, 400)),
  );
  const names = layer.members.map((m) => m.name);
  // Whole columns of things, so that a tenth of the area is a tenth of the tiles, as of one large member.
  const part = layer.members.filter((m) => m.id !== WALL).slice(0, 72);
  const stackOf = (members: string[]) => {
    const stack = new ChangeStack(source, [layer], { allocate: (bytes) => crew.allocate(bytes) });
    return { stack, tiles: stack.update([change('a', members, { hue: 40 })]) };
  };
  const whole = stackOf(names);
  const tenth = stackOf(part.map((m) => m.name));
  const alone = (s: typeof whole, plain = false) => {
    const computer = new TileComputer(s.stack.input(s.tiles), { plain });
    s.tiles.forEach((_, i) => computer.piece(i));
  };
  const all = await time(() => alone(whole), RUNS);
  const some = await time(() => alone(tenth), RUNS);
  const plain = await time(() => alone(whole, true), 1);
  const many = await time(() => crew.share(computeTiles, whole.stack.input(whole.tiles)), RUNS);
  const covered = part.reduce((sum, m) => sum + m.coverage, 0) / (width * height);
  tell(
    {
      name: 'two corrections on the whole frame, kernel',
      value: plain / all,
      unit: 'x faster',
      better: 'more',
      against: `plain code, ${((plain / width / height) * 1e6).toFixed(0)} ms a megapixel`,
    },
    {
      name: `the same on ${(100 * covered).toFixed(0)} % of it, in round things`,
      value: some / all,
      unit: 'x',
      goal: 0.2,
      better: 'less',
      against: `the whole frame, ${all.toFixed(0)} ms`,
    },
    {
      name: `the same, ${crew.size} threads`,
      value: all / many / control,
      unit: 'of gain',
      goal: 0.9,
      better: 'more',
      against: `a plain loop gains ${control.toFixed(2)}, this ${(all / many).toFixed(2)}`,
    },
  );
}

/**
 * Plain corrections, for whoever writes one.
 * @param count pixels of each
 */
export async function plainFigures(tell: Tell, count = 1 << 18): Promise<void> {
  const side = Math.sqrt(count);
  const fresh = () => Float32Array.from({ length: count }, (_, i) => 0.05 + ((i * 7919) % 1000) / 1000);
  for (const c of CORRECTIONS) {
    if (c.works !== 'pixel') continue;
    const values = workingValues(c.fields);
    // Any pass will do: it is read like any other.
    for (const f of c.fields) if (f.kind === 'pass') values[f.key] = 'occlusion';
    const pixels = {
      count,
      r: fresh(),
      g: fresh(),
      b: fresh(),
      at: Uint32Array.from({ length: count }, (_, i) => i),
      rendered: { width: side, height: side, r: fresh(), g: fresh(), b: fresh() },
      passes: { occlusion: [fresh(), fresh(), fresh()] },
    };
    const part = { ...pixels, weight: new Float32Array(count).fill(1) };
    const measured = c.measure?.(part, values);
    const ms = await time(() => c.apply(pixels, values, measured));
    tell({
      name: `${c.label}, plain`,
      value: (ms / count) * 1e6,
      unit: 'ms/MP',
      better: 'less',
      against: 'nothing',
    });
  }
}
