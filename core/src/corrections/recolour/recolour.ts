import type { ColourValue } from '../../fields/field.ts';
import { defineCorrection, type PartFigures, type PartColours, type PixelRun } from '../correction.ts';
import { shareOfPass } from '../pass-values.ts';
import { bodyOf, highlightOf, nearBlack, type Body } from './body.ts';
import { bouncesOf, BounceSums, countOf, factorsFor, usualColour, type Bounces } from './bounces.ts';
import { bright, foreignToMetal, noneAlone } from './doubts.ts';
import { meanOf, three, type Three } from './figures.ts';

interface Values {
  swatch: ColourValue;
  highlights: number;
  direct: string;
  indirect: string;
}
type Plain = Pick<Values, 'direct' | 'indirect'>;

const PLANES = ['r', 'g', 'b'] as const;

/** Names of the passes of scattered light; none without the direct one. */
const passesOf = ({ direct, indirect }: Plain): string[] =>
  direct === '' ? [] : [direct, indirect].filter((name) => name !== '');

const scattered = ({ rendered, passes }: Pick<PixelRun, 'rendered' | 'passes'>, names: string[]) =>
  shareOfPass(
    rendered,
    names.map((name) => passes[name]!),
  );

/** By light passes: the scattered light times k, everything else dimmed where the swatch is darker than it. */
function byPasses(swatch: ColourValue, scattered: Three, rest: Three): { k: Three; dim: number } {
  const kOf = (dim: number) => three((i) => (swatch[i]! - dim * rest[i]!) / Math.max(scattered[i]!, 1e-9));
  const k = kOf(1);
  if (k.every((v) => v >= 0)) return { k, dim: 1 };
  const dim = Math.max(
    0,
    0.95 * Math.min(...three((i) => (rest[i]! > 0 ? swatch[i]! / rest[i]! : Infinity))),
  );
  return { k: three((i) => Math.max(0, kOf(dim)[i]!)), dim };
}

/** What a part is multiplied by, by light passes. */
interface Factors {
  /** Everything, as if it were lit from nowhere else. */
  plain: Three;
  /** Light that is not scattered. */
  dim: number;
  /** Scattered light, and all light of a metal, by how often it has met the part. */
  paint: (count: number, channel: number) => number;
  metal: (count: number, channel: number) => number;
  scatteredBounces: Bounces;
  bounces: Bounces;
}
const factors = new WeakMap<PartFigures, { swatch: ColourValue; found: Factors }>();

/** Factors for what was measured and a swatch, found once. */
function factorsOf(measured: PartFigures, swatch: ColourValue): Factors {
  const known = factors.get(measured);
  if (known?.swatch === swatch) return known.found;
  const [scattered, rest, mean] = ['scattered', 'rest', 'mean'].map((k) => measured[k]! as Three) as [
    Three,
    Three,
    Three,
  ];
  const { k, dim } = byPasses(swatch, scattered, rest);
  const found: Factors = {
    dim,
    plain: three((i) => swatch[i]! / Math.max(mean[i]!, 1e-5)),
    paint: factorsFor(
      measured['scatteredBounces']!,
      three((i) => k[i]! * scattered[i]!),
    ),
    metal: factorsFor(
      measured['bounces']!,
      three((i) => swatch[i]!),
    ),
    scatteredBounces: bouncesOf(measured['scatteredUsual'] as Three, false),
    bounces: bouncesOf(measured['usual'] as Three, true),
  };
  factors.set(measured, { swatch, found });
  return found;
}
/** Metal scatters no light: its colour is that of its mirror images, and all of it is multiplied alike. */
function notMetal(scattered: Three, mean: Three): number {
  const share = (scattered[0] + scattered[1] + scattered[2]) / Math.max(mean[0] + mean[1] + mean[2], 1e-9);
  const t = Math.min(1, Math.max(0, (share - 0.05) / 0.2));
  return t * t * (3 - 2 * t);
}

/** Highlights are dimmed where the swatch is darker than they are in the mean. */
const dimmed = (swatch: ColourValue, highlights: Three) =>
  Math.min(1, 0.8 * Math.min(...three((i) => swatch[i]! / Math.max(highlights[i]!, 1e-9))));

/** A ratio beyond this many times grows grain more than it shows texture: there shading alone is kept. */
const MOST_RATIO = 8;
function blownUp(ratio: number): number {
  const t = Math.min(1, Math.max(0, (Math.log2(Math.max(ratio, 1e-6)) - Math.log2(MOST_RATIO) + 1) / 2));
  return t * t * (3 - 2 * t);
}

/** Quantities of a part by which it is recoloured without light passes. */
interface Picture {
  body: Body;
  dark: { share: number; own: number };
  /** Means of the part; of its highlights and of what is not; of reflections on a dark thing and of what is not. */
  mean: Three;
  light: number;
  matt: Three;
  mirrored: Three;
  shade: number;
}
const pack = ({ body, dark, ...p }: Picture): PartFigures => ({
  body: [...body.b, body.trust, body.floor, body.usual],
  dark: [dark.share, dark.own],
  mean: p.mean,
  light: [p.light],
  matt: p.matt,
  mirrored: p.mirrored,
  shade: [p.shade],
});
const unpack = (m: PartFigures): Picture => {
  const of = (key: string, at = 0) => m[key]![at]!;
  const all = (key: string) => three((k) => of(key, k));
  return {
    body: { b: all('body'), trust: of('body', 3), floor: of('body', 4), usual: of('body', 5) },
    dark: { share: of('dark'), own: of('dark', 1) },
    mean: all('mean'),
    light: of('light'),
    matt: all('matt'),
    mirrored: all('mirrored'),
    shade: of('shade'),
  };
};

function measurePicture(part: PartColours): Picture {
  const body = bodyOf(part);
  const dark = nearBlack(part);
  const { count, weight } = part;
  const sums = { mean: [0, 0, 0], matt: [0, 0, 0], mirrored: [0, 0, 0], light: 0, shade: 0, weight: 0 };
  for (let i = 0; i < count; i++) {
    const w = weight[i]!;
    const c = three((k) => part[PLANES[k]!][i]!);
    const s = highlightOf(...c, body);
    const bright = (c[0] + c[1] + c[2]) / 3;
    const mirrored = bright > dark.own ? 1 - dark.own / bright : 0;
    sums.weight += w;
    sums.light += w * s;
    sums.shade += w * bright * (1 - mirrored);
    for (let k = 0; k < 3; k++) {
      sums.mean[k]! += w * c[k]!;
      sums.matt[k]! += w * (c[k]! - s);
      sums.mirrored[k]! += w * c[k]! * mirrored;
    }
  }
  const by = 1 / Math.max(sums.weight, 1e-30);
  const mean = (of: number[]) => three((k) => of[k]! * by);
  return {
    body,
    dark,
    mean: mean(sums.mean),
    light: sums.light * by,
    matt: mean(sums.matt),
    mirrored: mean(sums.mirrored),
    shade: sums.shade * by,
  };
}

/** What the means of the part that is no highlight are multiplied by, so that all of it lands on the swatch. */
function ratioOf(swatch: ColourValue, p: Picture): { k: number; want: Three; ratio: Three } {
  const k = dimmed(swatch, [p.light, p.light, p.light]);
  const want = three((i) => Math.max(0, swatch[i]! - k * p.light));
  return { k, want, ratio: three((i) => want[i]! / Math.max(p.matt[i]!, 1e-6)) };
}

/** Recolours a run by what was measured of its part, without light passes. */
function byPicture({ count, r, g, b }: PixelRun, { swatch, highlights }: Values, p: Picture): void {
  const keep = highlights / 100;
  const { k, want, ratio } = ratioOf(swatch, p);
  const blown = three((i) => blownUp(ratio[i]!));
  const all = Math.max(p.matt[0] + p.matt[1] + p.matt[2], 1e-9);
  const weigh = three((i) => p.matt[i]! / all);
  const usual = Math.max(weigh[0] * p.matt[0] + weigh[1] * p.matt[1] + weigh[2] * p.matt[2], 1e-9);
  const plain = three((i) => swatch[i]! / Math.max(p.mean[i]!, 1e-5));
  const kDark = dimmed(swatch, p.mirrored);
  const wantDark = three((i) => Math.max(0, swatch[i]! - kDark * p.mirrored[i]!));
  const { share: dark, own } = p.dark;
  const out = [0, 0, 0];
  for (let n = 0; n < count; n++) {
    const c = [r[n]!, g[n]!, b[n]!] as const;
    const s = highlightOf(...c, p.body);
    const shading = (weigh[0] * (c[0] - s) + weigh[1] * (c[1] - s) + weigh[2] * (c[2] - s)) / usual;
    const bright = (c[0] + c[1] + c[2]) / 3;
    const mirrored = bright > own ? 1 - own / bright : 0;
    const shade = (bright * (1 - mirrored)) / Math.max(p.shade, 1e-9);
    for (let i = 0; i < 3; i++) {
      let v = (1 - blown[i]!) * ratio[i]! * (c[i]! - s) + blown[i]! * want[i]! * shading + k * s;
      if (dark > 0) v += dark * (kDark * c[i]! * mirrored + shade * wantDark[i]! - v);
      out[i] = v + (1 - keep) * (plain[i]! * c[i]! - v);
    }
    r[n] = out[0]!;
    g[n] = out[1]!;
    b[n] = out[2]!;
  }
}

/**
 * Gives a thing another colour: its mean lands on the swatch; shading, texture and highlights stay. With light passes
 * only the scattered light is multiplied, which is what another paint does, and light that went to and fro between parts
 * of it as often as it met them; without, highlights are told from the body
 * by their colour (a dichromatic split). How sure that is, and the means, are measured over the whole part in the picture
 * as rendered. The less highlights are kept, the more everything is multiplied alike.
 */
export const recolour = defineCorrection<Values>({
  works: 'pixel',
  kind: 'recolour',
  label: 'Recolour to a swatch',
  short: 'Recolour',
  group: 'colour',
  hint: 'Gives a thing another colour; shading, texture and highlights stay.',
  revision: 3,
  numbers:
    'Moves the part’s mean to the swatch exactly, in linear light. Diffuse light is multiplied; highlights keep their colour as far as set. The warning “Recolour guessed” marks what cannot be told.',
  fields: [
    { kind: 'colour', key: 'swatch', label: 'Swatch', max: 100, least: 1e-4, neutral: [0, 0, 0] },
    {
      kind: 'number',
      key: 'highlights',
      label: 'Keep highlights',
      unit: '%',
      min: 0,
      max: 100,
      step: 1,
      neutral: 100,
    },
    {
      kind: 'pass',
      key: 'direct',
      label: 'Diffuse light',
      like: '^diffuse[_ ]?direct$',
      optional: true,
      neutral: '',
    },
    {
      kind: 'pass',
      key: 'indirect',
      label: 'Diffuse light, indirect',
      like: '^diffuse[_ ]?indirect$',
      optional: true,
      neutral: '',
    },
  ],
  idle: ({ swatch }) => swatch.every((v) => v === 0),
  needs: passesOf,
  measure(part, values) {
    if (part.count === 0) return undefined;
    const names = passesOf(values);
    if (names.length === 0) return pack(measurePicture(part));
    const share = scattered(part, names);
    const diffuse = [0, 1, 2].map((k) =>
      Float32Array.from({ length: part.count }, (_, i) => part[PLANES[k]!][i]! * share(part.at[i]!, k)),
    );
    const mean = three((k) => meanOf(part[PLANES[k]!], part.weight));
    const scatteredMean = three((k) => meanOf(diffuse[k]!, part.weight));
    const sumsOf = (planes: readonly Float32Array[], told: Bounces) => {
      const sums = new BounceSums();
      for (let i = 0; i < part.count; i++) {
        const [r, g, b] = [planes[0]![i]!, planes[1]![i]!, planes[2]![i]!];
        sums.add(countOf(told, r, g, b), r, g, b, part.weight[i]!);
      }
      return sums.means();
    };
    const [r, g, b] = diffuse as [Float32Array, Float32Array, Float32Array];
    const [usual, scatteredUsual] = [usualColour(part), usualColour({ count: part.count, r, g, b })];
    return {
      scattered: scatteredMean,
      rest: three((k) => mean[k]! - scatteredMean[k]!),
      mean,
      usual,
      scatteredUsual,
      scatteredBounces: sumsOf(diffuse, bouncesOf(scatteredUsual, false)),
      bounces: sumsOf([part.r, part.g, part.b], bouncesOf(usual, true)),
    };
  },
  doubts(part, { swatch }, measured) {
    if (noneAlone(part)) return new Uint8Array(part.count).fill(1);
    if (measured['scattered']) {
      const metal = notMetal(measured['scattered'] as Three, measured['mean'] as Three) < 0.5;
      return metal ? foreignToMetal(part, measured['usual'] as Three) : new Uint8Array(part.count);
    }
    const p = unpack(measured);
    if (ratioOf(swatch, p).ratio.some((v) => blownUp(v) > 0.5)) return new Uint8Array(part.count).fill(1);
    return p.body.trust < 0.5 || p.dark.share > 0.5 ? bright(part, p.body.usual) : new Uint8Array(part.count);
  },
  apply(run, values, measured) {
    if (!measured) return;
    if (!measured['scattered']) return byPicture(run, values, unpack(measured));
    const { plain, dim, paint, metal, scatteredBounces, bounces } = factorsOf(measured, values.swatch);
    const share = scattered(run, passesOf(values));
    const kept = values.highlights / 100;
    const painted = notMetal(measured['scattered'] as Three, measured['mean'] as Three);
    const { r, g, b } = run;
    const factor = (part: number, often: number, all: number, i: number) => {
      const own = paint(often, i) * part + dim * (1 - part);
      const asPaint = kept * own + (1 - kept) * plain[i]!;
      return painted * asPaint + (painted < 1 ? (1 - painted) * metal(all, i) : 0);
    };
    for (let n = 0; n < run.count; n++) {
      const at = run.at[n]!;
      const [sr, sg, sb] = [share(at, 0), share(at, 1), share(at, 2)];
      const often = countOf(scatteredBounces, r[n]! * sr, g[n]! * sg, b[n]! * sb);
      const all = painted < 1 ? countOf(bounces, r[n]!, g[n]!, b[n]!) : 1;
      r[n]! *= factor(sr, often, all, 0);
      g[n]! *= factor(sg, often, all, 1);
      b[n]! *= factor(sb, often, all, 2);
    }
  },
});
