import type { Finding } from '../../findings/finding.ts';
import type { DescribedLayer } from '../../idlayers/load.ts';
import type { Check, Inspected } from '../check.ts';
import { countOf, Places } from '../places.ts';

const { abs, floor, min, round } = Math;

/** A mask that is a channel as it is. */
interface ChannelOfMask {
  layer: DescribedLayer;
  channel: string;
  member: string;
  lossy: boolean;
}

/** Masks that are channels as they are. */
const masksIn = ({ layers, image: { header } }: Inspected): ChannelOfMask[] =>
  layers.flatMap((layer) =>
    (layer.members ?? []).flatMap(({ channel, member }) => {
      const info = header.channels.find((c) => c.name === channel);
      return info && !info.derived ? [{ layer, channel, member, lossy: info.lossy ?? false }] : [];
    }),
  );

const NEAR = 0.08;
/** Values that are wholly in or out of a mask, in a file of 8 bits. */
const STEP = 0.5 / 255;

/** What the levels of a mask are like. */
export interface Levels {
  /** The value of what is out: the most frequent one near 0; and of what is in, near 1. */
  black: number;
  white: number;
  /** Pixels in flat places near 0 or 1 that are neither, and all in flat places. */
  unclean: number;
  flat: number;
  /** How much more neighbours differ over the lines of a grid of 8 pixels than elsewhere: 1 if no more. */
  blocks: number;
  /** Mean of pixels that lie between, beside both; how many there are. */
  edge: number;
  edges: number;
  max: number;
  /** Share of the border of the frame that is white. */
  border: number;
  where: Places;
}

/** Looks at the levels of a mask: those of flat places, and of the edges between. */
export function levelsOf(plane: Float32Array, width: number): Levels {
  const height = plane.length / width;
  const where = new Places(width, height);
  const bins = new Uint32Array(1025);
  let [max, border, around] = [-Infinity, 0, 0];
  const level = (v: number) => round(1024 * (v < 0 ? 0 : v > 1 ? 1 : v));
  for (let p = 0; p < plane.length; p++) {
    const v = plane[p]!;
    if (v > max) max = v;
    bins[level(v)]!++;
    const [x, y] = [p % width, floor(p / width)];
    if (x === 0 || y === 0 || x === width - 1 || y === height - 1) {
      around++;
      if (v > 1 - NEAR) border++;
    }
  }
  const near = round(0.3 * 1024);
  let [low, high] = [0, 1024];
  for (let i = 0; i < near; i++) if (bins[i]! > bins[low]!) low = i;
  for (let i = 1024; i > 1024 - near; i--) if (bins[i]! > bins[high]!) high = i;
  // A level that only some pixels have is no level: what is soft, or glass, has none.
  const sum = (from: number, to: number) => bins.subarray(from, to).reduce((a, b) => a + b, 0);
  if (bins[low]! < 0.5 * sum(0, near)) low = 0;
  if (bins[high]! < 0.3 * sum(1025 - near, 1025)) high = 1024;
  const [black, white] = [low / 1024, high / 1024];
  let [unclean, flat, edge, edges] = [0, 0, 0, 0];
  /** Small steps over the grid and elsewhere, and how many there are. */
  const steps = { over: 0, overs: 0, inside: 0, insides: 0 };
  const step = (v: number, last: number, at: number) => {
    const d = v > last ? v - last : last - v;
    if (d > NEAR) return;
    if (at % 8 === 0) [steps.over, steps.overs] = [steps.over + d, steps.overs + 1];
    else [steps.inside, steps.insides] = [steps.inside + d, steps.insides + 1];
  };
  for (let y = 1; y < height - 1; y++)
    for (let x = 1; x < width - 1; x++) {
      const p = y * width + x;
      const v = plane[p]!;
      step(v, plane[p - 1]!, x);
      step(v, plane[p - width]!, y);
      let [least, most] = [v, v];
      for (let r = p - width; r <= p + width; r += width)
        for (let q = r - 1; q <= r + 1; q++) {
          if (plane[q]! < least) least = plane[q]!;
          if (plane[q]! > most) most = plane[q]!;
        }
      if (most - least < NEAR) {
        const off = min(abs(v - black), abs(v - white));
        if (most < black + NEAR || least > white - NEAR) {
          flat++;
          if (off > STEP) {
            unclean++;
            where.add(p);
          }
        }
      } else if (
        least < black + NEAR / 4 &&
        most > white - NEAR / 4 &&
        v > black + NEAR / 4 &&
        v < white - NEAR / 4
      ) {
        edge += (v - black) / (white - black);
        edges++;
      }
    }
  return {
    black,
    white,
    unclean,
    flat,
    blocks: steps.inside > 0 ? steps.over / steps.overs / (steps.inside / steps.insides) : 1,
    edge: edges ? edge / edges : 0.5,
    edges,
    max,
    border: border / around,
    where,
  };
}

/** Edge pixels from which the mean of their levels is known to a fortieth. */
const EDGES = 150;
/** Share of flat places that may be unclean: soft masks have noise of the renderer there; and where a grid shows. */
const CLEAN = 0.05;
const CLEAN_IN_BLOCKS = 0.003;
const BLOCKS = 1.4;
const isUnclean = ({ unclean, flat, blocks }: Levels): boolean =>
  unclean > CLEAN * flat || (blocks > BLOCKS && unclean > CLEAN_IN_BLOCKS * flat);

/** Masks in channels: whether they have something in them, are the right way round, and have clean levels. */
export const levels: Check = {
  code: 'levels-unclean',
  title: 'Levels of masks',
  scope: 'frame',
  async run(open) {
    const { read, width } = open;
    if (!read) return [];
    const findings: Finding[] = [];
    const tell = (finding: Omit<Finding, 'severity'>) => findings.push({ severity: 'warning', ...finding });
    for (const { layer, channel, member, lossy } of masksIn(open)) {
      const plane = (await read([channel])).get(channel)!;
      const own = levelsOf(plane, width);
      const name = `${layer.name}: “${member}” (${channel})`;
      if (!(own.max > 0.01)) {
        tell({
          code: 'buffer-empty',
          message: `${name} is empty. Nothing in the scene has this number, or it is hidden in this frame.`,
        });
        continue;
      }
      if (own.border > 0.9 && (await coversOthers(open, layer, channel, plane)))
        tell({
          code: 'buffer-inverted',
          message: `${name} is white all around and over other masks: it seems to be turned round.`,
          remedy: { label: 'Turn it round', mend: { what: 'turn-round', layer: channel } },
        });
      const told = unclean(own, lossy);
      if (told)
        tell({
          ...told,
          code: 'levels-unclean',
          message: `${name} ${told.message}`,
          ...remedyOf(own, channel, lossy),
        });
    }
    return findings;
  },
};

/** True if a mask lies over most of what the others of its layer cover, or there is none. */
async function coversOthers(
  { read, width }: Inspected,
  layer: DescribedLayer,
  channel: string,
  plane: Float32Array,
): Promise<boolean> {
  let [over, all] = [0, 0];
  for (const other of layer.members ?? []) {
    if (other.channel === channel) continue;
    const theirs = (await read!([other.channel])).get(other.channel);
    // One that is white itself all around says nothing.
    if (!theirs || levelsOf(theirs, width).border > 0.9) continue;
    for (let p = 0; p < plane.length; p++) {
      all += theirs[p]!;
      over += min(theirs[p]!, plane[p]!);
    }
  }
  return all > 0 && over > 0.5 * all;
}

function unclean(own: Levels, lossy: boolean): Pick<Finding, 'message' | 'places'> | undefined {
  if (lossy || isUnclean(own))
    return {
      message: `was packed with loss: ${countOf(own.unclean, 'pixel')} that should be all or nothing are nearly so, and noise will show in every correction. Save it as PNG, TIFF or EXR without loss.`,
      places: own.where.areas(),
    };
  if (own.black > 1 / 255 || own.white < 1 - 2 / 255)
    return {
      message: `goes from ${own.black.toFixed(3)} to ${own.white.toFixed(3)} and not from 0 to 1: it was changed after rendering. What is outside would be corrected a little, too.`,
    };
  if (own.edges > EDGES && abs(own.edge - 0.5) > 0.1)
    return {
      message: `is ${own.edge > 0.5 ? 'too light' : 'too dark'} at its edges (${own.edge.toFixed(2)} on average, .5 would be right): a display curve was applied to it, or taken off. Edges will show a ${own.edge > 0.5 ? 'light' : 'dark'} line.`,
    };
  return undefined;
}

function remedyOf(own: Levels, channel: string, lossy: boolean): Pick<Finding, 'remedy'> {
  const stretch = own.black > 1 / 255 || own.white < 1 - 2 / 255;
  const bent = own.edges > EDGES && abs(own.edge - 0.5) > 0.1;
  if (lossy || isUnclean(own)) {
    // What is nearly all or nothing becomes it.
    const numbers = { black: own.black + 0.06, white: own.white - 0.06 };
    return { remedy: { label: 'Clean its levels', mend: { what: 'levels', layer: channel, numbers } } };
  }
  if (stretch)
    return {
      remedy: {
        label: 'Stretch it to 0 and 1',
        mend: { what: 'levels', layer: channel, numbers: { black: own.black, white: own.white } },
      },
    };
  if (bent)
    return {
      remedy: {
        label: own.edge > 0.5 ? 'Take the curve off' : 'Apply the curve',
        mend: { what: own.edge > 0.5 ? 'display-to-light' : 'light-to-display', layer: channel },
      },
    };
  return {};
}
