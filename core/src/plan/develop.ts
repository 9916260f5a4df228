import { makeFloat, makeString } from '../formats/exr/attributes.ts';
import { writeExr } from '../formats/exr/write.ts';
import type { ExrAttribute, ExrChannel, ExrImage } from '../formats/exr/types.ts';
import type { Zlib } from '../formats/exr/compression/compression.ts';
import { channelOf } from '../passes/pass.ts';
import { passKind } from '../passes/registry.ts';
import { asFloats } from '../formats/exr/samples.ts';
import type { Film } from '../render/film.ts';
import { RENDERER, type Measured, type MeasuredPass } from './cost.ts';
import type { Plan } from './plan.ts';
import type { Roster } from '../roster/roster.ts';
import { cameraViewAttributes } from '../version/camera-view.ts';
import type { RenderRequest, Staged } from './stage.ts';

/** One file of a frame. */
export interface FrameFile {
  layers: 'all' | 'picture' | 'ids';
  bytes: Uint8Array;
}

/** One pass made, on its way into a file. */
interface Made {
  id: string;
  kind: string;
  title: string;
  isIds: boolean;
  channels: ExrChannel[];
  attributes: ExrAttribute[];
  seconds: number;
}

export interface DevelopOptions {
  zlib?: Zlib;
  threads: number;
  /** Wall-clock seconds that the film took. */
  seconds: number;
  /** Patch: the picture over which the new pixels are laid. */
  base?: ExrImage;
}

/** Every so many blocks of lines are packed once more pass by pass, to tell what each costs in the file. */
const SAMPLED = 6;
const BLOCK_LINES = 16;

/**
 * Makes the passes of a film and writes its files, and tells what each cost. The seconds of a pass are those of making
 * and writing it, and of the rays that only it needs; the rest is the picture's.
 */
export function develop(
  film: Film,
  staged: Staged,
  plan: Plan,
  roster: Roster,
  request: RenderRequest,
  options: DevelopOptions,
): { files: FrameFile[]; measured: Measured } {
  const { width, height, settings } = film;
  const seconds = () => performance.now() / 1000;
  const made: Made[] = [];
  const occlusion = film.tiles.reduce((n, t) => n + t.spentOcclusion, 0) / 1000 / options.threads;
  let beauty = { seconds: options.seconds - occlusion, channels: [] as ExrChannel[] };
  if (settings.light) {
    const started = seconds();
    const channels = [...film.light(), film.alpha()].map((p, i) => channelOf('RGBA'[i]!, p, 'half'));
    beauty = { seconds: beauty.seconds + seconds() - started, channels };
  }
  const source = { film, roster, place: staged.place };
  const occluding = staged.uses.filter((u) => passKind(u.kind)!.gather(u.values).occlusion).length;
  for (const use of staged.uses) {
    const kind = passKind(use.kind)!;
    const started = seconds();
    const throughLayer = staged.throughLayer.get(use.id);
    const result = kind.make(
      use.values,
      throughLayer === undefined ? source : { ...source, throughLayer },
      use.depth,
    );
    made.push({
      id: use.id,
      kind: use.kind,
      title: kind.title(use.values),
      isIds: kind.group === 'ids',
      ...result,
      seconds: seconds() - started + (kind.gather(use.values).occlusion ? occlusion / occluding : 0),
    });
  }
  if (request.what === 'cut-out' && staged.scene.parts.some((p) => p.role === 'catcher')) {
    const started = seconds();
    const { shadow, reflection } = film.catcher();
    made.push({
      id: 'catcher',
      kind: 'catcher',
      title: 'Shadow and reflection caught',
      isIds: false,
      channels: [
        channelOf('caught_shadow.Y', shadow, 'half'),
        ...reflection.map((p, i) => channelOf(`caught_reflection.${'RGB'[i]}`, p, 'half')),
      ],
      attributes: [],
      seconds: seconds() - started,
    });
  }
  if (request.what === 'patch' && options.base) {
    beauty.channels = layOver(film, beauty.channels, options.base);
    for (const m of made) m.channels = layOver(film, m.channels, options.base);
  }
  const picture: Made = {
    id: 'picture',
    kind: 'picture',
    title: settings.light ? 'Picture' : 'Finding what is seen',
    isIds: false,
    channels: beauty.channels,
    attributes: [],
    seconds: beauty.seconds,
  };
  const all = [picture, ...made];

  const { yfov } = staged.scene.camera;
  const common = [
    makeString('software', 'Zesty Crow'),
    makeString('zestyCrow/filter', settings.filter),
    makeFloat('zestyCrow/samples', settings.samples),
    makeFloat('zestyCrow/seed', settings.seed),
    ...cameraViewAttributes({
      // A parallel projection has no such angle.
      width: yfov > 0 ? (2 * Math.tan(yfov / 2) * width) / height : undefined,
      along: 'axis',
    }),
  ];
  const apart = plan.output.idsApart && settings.light;
  const groups: { layers: FrameFile['layers']; passes: Made[] }[] = apart
    ? [
        { layers: 'picture', passes: all.filter((m) => !m.isIds) },
        { layers: 'ids', passes: all.filter((m) => m.isIds) },
      ]
    : [{ layers: settings.light ? 'all' : 'ids', passes: all }];
  const window = { xMin: 0, yMin: 0, xMax: width - 1, yMax: height - 1 };
  const write = (channels: ExrChannel[], attributes: ExrAttribute[], lines = height) =>
    writeExr(
      { dataWindow: { ...window, yMax: lines - 1 }, channels, attributes },
      { compression: plan.output.compression, ...(options.zlib ? { zlib: options.zlib } : {}) },
    );
  const files: FrameFile[] = [];
  const measured: MeasuredPass[] = [];
  for (const { layers, passes } of groups) {
    const channels = passes.flatMap((m) => m.channels);
    if (channels.length === 0) continue;
    const started = seconds();
    const bytes = write(channels, [...common, ...passes.flatMap((m) => m.attributes)]);
    const spent = seconds() - started;
    files.push({ layers, bytes });
    // Each pass alone, on a sample of its lines, gives its share of the file.
    const parts = passes.map((m) => {
      if (m.channels.length === 0) return 0;
      const text = m.attributes.reduce((n, a) => n + a.value.length, 0);
      const sample = m.channels.map((c) => ({ ...c, data: sampledLines(c.data, width, height) }));
      const lines = sample[0]!.data.length / width;
      return (write(sample, [], lines).length * height) / lines + text;
    });
    const sum = parts.reduce((a, b) => a + b, 0) || 1;
    passes.forEach((m, i) => {
      const share = parts[i]! / sum;
      measured.push({
        id: m.id,
        kind: m.kind,
        title: m.title,
        channels: m.channels.length,
        seconds: m.seconds + spent * share,
        bytes: Math.round(bytes.length * share),
      });
    });
  }
  const taken = film.tiles.reduce((n, t) => n + t.samples.reduce((a, b) => a + b, 0), 0);
  return {
    files,
    measured: {
      width,
      height,
      samples: taken / (width * height),
      idsOnly: !settings.light,
      ...(request.what === 'cut-out' || request.what === 'patch' ? { partial: true } : {}),
      threads: options.threads,
      renderer: RENDERER,
      ...(film.noise === undefined ? {} : { noise: film.noise }),
      seconds: measured.reduce((n, m) => n + m.seconds, 0),
      bytes: files.reduce((n, f) => n + f.bytes.length, 0),
      passes: measured,
    },
  };
}

function sampledLines<T extends ExrChannel['data']>(data: T, width: number, height: number): T {
  const lines: number[] = [];
  for (let y = 0; y < height; y++) if (Math.floor(y / BLOCK_LINES) % SAMPLED === 0) lines.push(y);
  const out = new (data.constructor as new (n: number) => T)(lines.length * width);
  lines.forEach((y, i) => out.set(data.subarray(y * width, (y + 1) * width) as never, i * width));
  return out;
}

/** New pixels where a patch took samples, those of the earlier version everywhere else. */
function layOver(film: Film, fresh: ExrChannel[], base: ExrImage): ExrChannel[] {
  const samples = film.samples();
  return fresh.map((c) => {
    const under = base.channels.find((b) => b.name === c.name);
    if (!under || under.data.length !== samples.length) return c;
    // IDs are bit patterns: they are only taken as they are.
    const old =
      under.type === c.type ? under.data : channelOf(c.name, asFloats(under), c.type as 'half').data;
    const data = c.data.slice();
    for (let i = 0; i < samples.length; i++) if (samples[i] === 0) data[i] = old[i]!;
    return { ...c, data };
  });
}
