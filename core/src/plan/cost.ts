import { passKind } from '../passes/registry.ts';
import type { Gather } from '../render/gather.ts';
import { sumsBytes } from '../render/sums.ts';
import { LEAST_SAMPLES } from '../render/noise.ts';
import type { PassUse, Plan, RenderPlan } from './plan.ts';
import type { Roster } from '../roster/roster.ts';

/**
 * Goes up when rendering becomes so much faster or slower that the seconds of earlier renders say nothing any more; how
 * large their files were still does.
 */
export const RENDERER = 2;

/** What one frame really cost, kept with its version. */
export interface Measured {
  width: number;
  height: number;
  /** Mean samples a pixel that were taken. */
  samples: number;
  idsOnly: boolean;
  /** The noise that 95 % of its pixels do not exceed, see `judge`. */
  noise?: number;
  /** True for a cut-out or a patch: only some members or pixels, so nothing to estimate a whole frame from. */
  partial?: boolean;
  /** What a frame had cost that was not finished. */
  unfinished?: boolean;
  /** RENDERER at the time; 1 where it is not said. */
  renderer?: number;
  threads: number;
  /** Seconds of the whole frame, and bytes of all its files. */
  seconds: number;
  bytes: number;
  passes: MeasuredPass[];
}
export interface MeasuredPass {
  /** `picture` for the beauty, otherwise as in the plan. */
  id: string;
  kind: string;
  title: string;
  channels: number;
  seconds: number;
  bytes: number;
}

/** What a short trial of the scene told, see `probeScene`. */
export interface ProbeFigures {
  /** Seconds from the scene to the first samples. */
  beginning: number;
  /** Seconds of a million samples, and how much dearer the first few samples of a million pixels are together. */
  perMillion: number;
  firstSamples: number;
  /** The noise that one sample a pixel would have, see `judge`; it falls with the root of the samples. */
  noiseOfOne: number;
  threads: number;
}

/** A pass of the plan with what it will cost a frame. */
export interface PassCost {
  id: string;
  title: string;
  seconds: number;
  bytes: number;
  /** True if it comes from an earlier render, false if from typical figures. */
  measured: boolean;
}

export interface PlanCost {
  passes: PassCost[];
  /** One frame, and the whole range. */
  seconds: number;
  bytes: number;
  /** Bytes a frame that are kept so that samples can be added later. */
  sums: number;
  /** Samples a pixel, and the noise that 95 % of the pixels will not exceed, see `judge`. */
  samples: number;
  noise: number;
  /** Bytes of memory that rendering a frame takes, besides the scene. */
  memory: number;
  frames: number;
  measured: boolean;
}

/**
 * Typical figures until there is a render to go by, from the honey table on one core of a small server: seconds of
 * thread time per million samples, and bytes a pixel and channel.
 */
const TYPICAL = {
  light: 4.5,
  idsOnly: 0.4,
  /** Following IDs through glass and mirrors without light; with it the rays are there anyway. */
  through: 0.8,
  occlusion: 0.9,
  /** Noise after one sample, of light and of masks alone; it falls with the root of the samples. */
  noise: { light: 1.03, ids: 0.3 },
  /** Making the channels of one pass, seconds per million pixels and channel. */
  making: 0.15,
  bytes: { half: 1.3, float: 2.6, id: 0.35, grey: 0.06 },
};

const typicalBytes = (use: PassUse, name: string): number => {
  if (use.kind === 'cryptomatte' || use.kind === 'through-glass') {
    // First ranks are full, later ones nearly empty.
    const rank = /(\d\d)\.[RGBA]$/.exec(name)?.[1] ?? '00';
    return TYPICAL.bytes.id / (1 + 2 * Number(rank));
  }
  if (passKind(use.kind)?.group === 'ids') return TYPICAL.bytes.grey;
  return TYPICAL.bytes[use.depth];
};

/** Everything that the passes of a plan need from the renderer, and for each through-glass pass its layer. */
export function gatherOf(passes: readonly PassUse[]): { gather: Gather; throughLayer: Map<string, number> } {
  const gather: Gather = {
    ids: true,
    lightParts: false,
    lamps: false,
    surface: false,
    shadow: false,
    occlusion: 0,
    through: [],
  };
  const throughLayer = new Map<string, number>();
  for (const use of passes) {
    const wanted = passKind(use.kind)?.gather(use.values) ?? {};
    gather.lightParts ||= wanted.lightParts ?? false;
    gather.lamps ||= wanted.lamps ?? false;
    gather.surface ||= wanted.surface ?? false;
    gather.shadow ||= wanted.shadow ?? false;
    gather.occlusion = Math.max(gather.occlusion, wanted.occlusion ?? 0);
    for (const spec of wanted.through ?? []) {
      const key = JSON.stringify(spec);
      let at = gather.through.findIndex((t) => JSON.stringify(t) === key);
      if (at < 0) at = gather.through.push(spec) - 1;
      throughLayer.set(use.id, at);
    }
  }
  return { gather, throughLayer };
}

/** Memory of a program that renders, and how much more its sums take than what is stored of them. */
const MEMORY = { base: 250e6, sums: 2 };

/** Bytes of memory that each pixel takes: its sums, and the channels that are made of them, as planes and in a file. */
function memoryOfPixel(plan: Plan, roster: Roster, idsOnly: boolean): number {
  const on = plan.passes.filter((p) => p.on && !(idsOnly && passKind(p.kind)?.group === 'light'));
  const channels = on.reduce((n, p) => n + (passKind(p.kind)?.channels(p.values, roster).length ?? 0), 4);
  const { gather } = gatherOf(on);
  return MEMORY.sums * sumsBytes(1, gather, !idsOnly, roster.lamps.length) + 10 * channels;
}

/** A size of the same shape that a render fits in; undefined if the plan's own does. */
export function sizeThatFits(
  plan: Plan,
  cost: PlanCost,
  memory: number,
): { width: number; height: number } | undefined {
  if (cost.memory <= memory) return undefined;
  const { width, height } = plan.render;
  const share = Math.sqrt(Math.max(0, memory - MEMORY.base) / (cost.memory - MEMORY.base));
  // Sizes end in tens, as people write them.
  const whole = (n: number) => Math.max(16, 10 * Math.floor((n * share) / 10));
  return { width: whole(width), height: whole(height) };
}

/** Frames that agree in these were rendered alike. */
const ALIKE = ['idsOnly', 'width', 'height', 'samples', 'threads'] as const;

/** Seconds of thread time per million samples. */
function typicalSample(plan: Plan, idsOnly: boolean): number {
  if (!idsOnly) return TYPICAL.light;
  const { through } = gatherOf(plan.passes.filter((p) => p.on)).gather;
  return TYPICAL.idsOnly + (through.length > 0 ? TYPICAL.through : 0);
}

/** Noise that one sample a pixel would have, by the latest render that tells; of other sizes it is about the same. */
function noiseOfOne(earlier: readonly Measured[], idsOnly: boolean): number {
  const judged = earlier.find((m) => m.noise && m.idsOnly === idsOnly && !m.partial);
  return judged ? judged.noise! * Math.sqrt(judged.samples) : TYPICAL.noise[idsOnly ? 'ids' : 'light'];
}

/**
 * Samples a pixel that a render will take until it is done.
 * @param one seconds that one sample of every pixel takes
 * @param noise that one sample a pixel has
 */
function expectedSamples(render: RenderPlan, one: number, noise: number): number {
  if (render.doneWhen === 'time') return Math.max(1, (60 * render.minutes) / one);
  if (render.doneWhen === 'clean')
    return Math.min(render.samples, Math.max(LEAST_SAMPLES, (noise / render.noise) ** 2));
  return render.samples;
}

/**
 * What a plan will cost, from the latest render of the same scene where there is one.
 * @param earlier renders of the scene, newest first
 * @param threads that a frame is rendered with
 * @param probe a trial of this very frame, which knows better than earlier renders do
 */
export function planCost(
  plan: Plan,
  roster: Roster,
  earlier: readonly Measured[],
  threads: number,
  idsOnly = false,
  probe?: ProbeFigures,
): PlanCost {
  const history = earlier.filter((m) => !m.partial && !m.unfinished);
  const { render } = plan;
  const pixels = (render.width * render.height) / 1e6;
  const work = (m: Measured) => (m.width * m.height * m.samples) / 1e6;
  const timed = history.filter((m) => (m.renderer ?? 1) === RENDERER);
  const last = timed.find((m) => m.idsOnly === idsOnly && work(m) > 0);
  // Frames of a sequence differ: all that were rendered like the last one are asked.
  const like = timed.filter((m) => ALIKE.every((key) => m[key] === last?.[key]));
  const rateOf = (m: Measured) => (m.passes.find((p) => p.id === 'picture')?.seconds ?? m.seconds) / work(m);
  const rate = last
    ? like.reduce((sum, m) => sum + rateOf(m), 0) / like.length
    : typicalSample(plan, idsOnly) / threads;
  const one = probe
    ? probe.perMillion * pixels * (probe.threads / threads)
    : rate * pixels * (last ? last.threads / threads : 1);
  const noise = probe?.noiseOfOne ?? noiseOfOne(earlier, idsOnly);
  const taken = expectedSamples(render, one, noise);
  const samples = pixels * taken;
  const picture: PassCost = {
    id: 'picture',
    title: idsOnly ? 'Finding what is seen' : 'Picture',
    // The first samples of a pixel are dearer, and the scene has to be made ready.
    seconds:
      render.doneWhen === 'time'
        ? 60 * render.minutes
        : one * taken + (probe ? probe.beginning + probe.firstSamples * pixels : 0),
    bytes: 0,
    measured: last !== undefined || probe !== undefined,
  };
  if (!idsOnly) {
    const known = history
      .filter((m) => !m.idsOnly)
      .flatMap((m) => m.passes.filter((p) => p.id === 'picture').map((p) => ({ m, p })))[0];
    picture.bytes = known
      ? (known.p.bytes / (known.m.width * known.m.height)) * pixels * 1e6
      : 4 * TYPICAL.bytes.half * pixels * 1e6;
  }
  const passes = plan.passes
    .filter((p) => p.on && !(idsOnly && passKind(p.kind)?.group === 'light'))
    .flatMap((use): PassCost[] => {
      const kind = passKind(use.kind);
      if (!kind) return [];
      const channels = kind.channels(use.values, roster);
      const title = kind.title(use.values);
      // The very same pass first, then any of its kind with the number of channels taken into account.
      const found = history
        .flatMap((m) => m.passes.filter((p) => p.kind === use.kind).map((p) => ({ m, p })))
        .sort((a, b) => Number(b.p.title === title) - Number(a.p.title === title))[0];
      if (found) {
        const scale = channels.length / Math.max(1, found.p.channels);
        const area = (pixels * 1e6) / (found.m.width * found.m.height);
        const rays = kind.gather(use.values).occlusion !== undefined;
        const seconds =
          rays && found.m.renderer !== RENDERER
            ? (TYPICAL.occlusion * samples) / threads
            : found.p.seconds * scale * (rays ? samples / work(found.m) : area);
        return [
          {
            id: use.id,
            title,
            seconds,
            bytes: found.p.bytes * scale * area,
            measured: true,
          },
        ];
      }
      const extra = kind.gather(use.values).occlusion ? (TYPICAL.occlusion * samples) / threads : 0;
      return [
        {
          id: use.id,
          title,
          seconds: extra + TYPICAL.making * channels.length * pixels,
          bytes: channels.reduce((n, c) => n + typicalBytes(use, c.name), 0) * pixels * 1e6,
          measured: false,
        },
      ];
    });
  const all = [picture, ...passes];
  return {
    passes: all,
    seconds: all.reduce((n, p) => n + p.seconds, 0),
    bytes: all.reduce((n, p) => n + p.bytes, 0),
    sums: sumsBytes(
      pixels * 1e6,
      gatherOf(plan.passes.filter((p) => p.on)).gather,
      !idsOnly,
      roster.lamps.length,
    ),
    samples: taken,
    noise: noise / Math.sqrt(taken),
    memory: MEMORY.base + pixels * 1e6 * memoryOfPixel(plan, roster, idsOnly),
    frames: render.last - render.first + 1,
    measured: picture.measured,
  };
}
