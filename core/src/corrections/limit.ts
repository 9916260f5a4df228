import { through } from '../colour/matrix.ts';
import { rgbToOklab, sureOfHue, type Triple } from '../colour/oklab.ts';
import type { KernelLimit } from '../kernels/tile.ts';
import type { Field, FieldValues, NumberField } from '../fields/field.ts';
import { isNeutral, wholeValues } from '../fields/values.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import type { Passes } from './correction.ts';

const number = (
  key: string,
  label: string,
  unit: string,
  max: number,
  neutral: number,
  more: Partial<NumberField> = {},
): Field => ({ kind: 'number', key, label, unit, min: 0, max, step: 1, neutral, ...more });

/**
 * To which pixels a correction is limited, by what they are in the picture as rendered: not in the running result, so
 * that order does not move it. Hue and saturation are those of Oklab: chroma as a share of lightness, so that light and
 * shadow of a thing are equally saturated.
 */
const COLOUR_LIMIT: readonly Field[] = [
  number('limitHue', 'Around hue', '°', 360, 0, { scale: 'hue' }),
  number('limitHueWidth', 'Hue width', '°', 360, 360),
  number('limitHueSoft', 'Hue softness', '°', 180, 20),
  number('limitSaturationFrom', 'Saturation from', '%', 100, 0),
  number('limitSaturationTo', 'Saturation to', '%', 100, 100),
  number('limitSaturationSoft', 'Saturation softness', '%', 100, 5),
  number('limitLightnessFrom', 'Lightness from', '%', 100, 0),
  number('limitLightnessTo', 'Lightness to', '%', 100, 100),
  number('limitLightnessSoft', 'Lightness softness', '%', 100, 10),
];

const distance = (key: string, label: string, neutral: number, softMax = 20): Field =>
  number(key, label, 'scene units', 1e6, neutral, { softMax, step: 0.1 });

/** What lies between near and far by a depth pass. A far end of 0 is none. */
const DEPTH_LIMIT: readonly Field[] = [
  { kind: 'pass', key: 'limitDepth', label: 'Depth', like: '^(depth|z)', neutral: '' },
  distance('limitNear', 'From', 0),
  distance('limitFar', 'To (0: no end)', 0),
  distance('limitDepthSoft', 'Depth softness', 0.2, 2),
];

/** Only some of the light is corrected, by light passes: the rest of each pixel stays. */
const LIGHT_LIMIT: readonly Field[] = (['onlyLight', 'andLight'] as const).map((key, i) => ({
  kind: 'pass',
  key,
  label: i === 0 ? 'Only this light' : 'And this light',
  like: '^(diffuse|specular|reflection|refraction|emission|background|lamp)',
  neutral: '',
}));

/** Limits that belong together. */
export interface LimitGroup {
  title: string;
  fields: readonly Field[];
}

/** Limits of a correction; light can be told apart where it looks at one pixel at a time. */
export const limitGroupsOf = ({ works }: { works: 'pixel' | 'area' }): readonly LimitGroup[] => [
  { title: 'In a range of colours', fields: COLOUR_LIMIT },
  { title: 'From near to far', fields: DEPTH_LIMIT },
  ...(works === 'pixel' ? [{ title: 'On some of the light', fields: LIGHT_LIMIT }] : []),
];

/** The light passes that a correction is limited to; none if it is not. */
export const lightLimitOf = (values: FieldValues): string[] =>
  LIGHT_LIMIT.flatMap(({ key }) => (values[key] ? [values[key] as string] : []));

/** What limits of all the same; softness and a hue without a width say nothing by themselves. */
const SAYING = COLOUR_LIMIT.filter((f) => /Width|From|To/.test(f.key));

/** Weighs one pixel, 0 to 1, by its scene-linear values in the picture as rendered. */
export type Limit = (r: number, g: number, b: number) => number;

/** 1 at 0 and beyond, falling smoothly to 0 at -1: of `over` how far something is inside, `soft` how soft. */
function step(over: number, soft: number): number {
  if (over >= 0) return 1;
  if (over <= -soft) return 0;
  const t = 1 + over / soft;
  return t * t * (3 - 2 * t);
}

/** The limit in a correction's values; undefined if they do not limit. */
export function limitSettings(values: FieldValues): KernelLimit | undefined {
  if (isNeutral(SAYING, values)) return undefined;
  const all = wholeValues(COLOUR_LIMIT, values);
  const of = (key: string) => all[`limit${key}`] as number;
  const range = (name: string): KernelLimit['lightness'] => ({
    from: of(`${name}From`) / 100,
    to: of(`${name}To`) / 100,
    soft: of(`${name}Soft`) / 100,
  });
  return {
    hue: of('Hue'),
    width: of('HueWidth'),
    hueSoft: of('HueSoft'),
    saturation: range('Saturation'),
    lightness: range('Lightness'),
  };
}

/** The limit in a correction's values as a function; undefined if they do not limit. The tile kernel has its twin. */
export function limitOf(values: FieldValues): Limit | undefined {
  const settings = limitSettings(values);
  if (!settings) return undefined;
  const { hue, width, hueSoft } = settings;
  // At the end of the scale there is nothing beyond.
  const within =
    ({ from, to, soft }: KernelLimit['lightness']) =>
    (v: number) =>
      (from > 0 ? step(v - from, soft) : 1) * (to < 1 ? step(to - v, soft) : 1);
  const [saturation, lightness] = [within(settings.saturation), within(settings.lightness)];
  const lab: Triple = [0, 0, 0];
  return (r, g, b) => {
    rgbToOklab(r, g, b, lab);
    const chroma = Math.hypot(lab[1], lab[2]);
    const s = lab[0] > 1e-6 ? chroma / lab[0] : 0;
    let weight = saturation(s) * lightness(lab[0]);
    if (width < 360 && weight > 0) {
      const away = Math.abs(
        (((((Math.atan2(lab[2], lab[1]) * 180) / Math.PI - hue) % 360) + 540) % 360) - 180,
      );
      weight *= step(width / 2 - away, hueSoft) * sureOfHue(s);
    }
    return weight > 0 ? weight : 0;
  };
}

/** A limit to what is neither nearer nor farther than a depth pass says. */
export interface DepthLimit {
  pass: string;
  /** Weighs a depth, 0 to 1; what is no number, as where nothing was hit, is far. */
  weigh(depth: number): number;
}

export function depthLimitOf(values: FieldValues): DepthLimit | undefined {
  const all = wholeValues(DEPTH_LIMIT, values);
  const [pass, near, far, soft] = DEPTH_LIMIT.map((f) => all[f.key]) as [string, number, number, number];
  if (pass === '' || (near === 0 && far === 0)) return undefined;
  return {
    pass,
    weigh(depth) {
      const d = Number.isNaN(depth) ? Infinity : depth;
      return (near > 0 ? step(d - near, soft) : 1) * (far > 0 ? step(far - d, soft) : 1);
    },
  };
}

/** Which pixels a correction's values limit it to; undefined if they do not. */
export interface Limits {
  colour: Limit | undefined;
  depth: DepthLimit | undefined;
}

export function limitsOf(values: FieldValues): Limits | undefined {
  const [colour, depth] = [limitOf(values), depthLimitOf(values)];
  return colour || depth ? { colour, depth } : undefined;
}

/**
 * How much of a correction counts at a pixel, 0 to 1.
 * @param source what it goes by, with the pixel's place in it; colours in other primaries are judged as Rec. 709
 * @param passes the version's planes; `at` is the place in them, where it is another one
 */
export function weighPixels(
  { colour, depth }: Limits,
  source: Pick<RgbPlanes, 'r' | 'g' | 'b' | 'toScreen'>,
  passes: Passes,
): (place: number, at?: number) => number {
  const { r, g, b, toScreen } = source;
  const far = depth && passes[depth.pass]?.[0];
  return (place, at = place) => {
    const away = far ? depth.weigh(far[at]!) : 1;
    if (!colour || away === 0) return away;
    const [x, y, z] = [r[place]!, g[place]!, b[place]!];
    return away * (toScreen ? colour(...through(toScreen, [x, y, z])) : colour(x, y, z));
  };
}
