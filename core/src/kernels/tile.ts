import { displayByte } from '../colour/srgb.ts';
import { TILE_PIXELS } from '../planes/tiles.ts';
import { BYTES } from './generated/tile.ts';
import { loadKernel, type KernelExports } from './load.ts';

interface Exports extends KernelExports {
  planesAt(): number;
  coverAt(): number;
  renderedAt(): number;
  programAt(): number;
  tableAt(): number;
  bytesAt(): number;
  change(steps: number): void;
  show(by: number): void;
  recolour(): void;
  halve(times: number, width: number, height: number): void;
}

/** One step of a change as the kernel knows it: which one, and up to 14 numbers. */
export type KernelStep = readonly [kind: number, ...numbers: number[]];

/** Multiplies by a number. */
export const gainStep = (by: number): KernelStep => [1, by];
/**
 * Turns hue, scales chroma (both in `cos` and `sin`) and lightness, and adds `to`, times lightness, in Oklab's a and b;
 * chroma is reduced in so many halvings.
 */
export const turnStep = (
  cos: number,
  sin: number,
  light: number,
  halvings: number,
  to: readonly [a: number, b: number] = [0, 0],
): KernelStep => [2, cos, sin, light, halvings, ...to];

/** max(0, base + gain * ((x - offset) * scale) ^ exponent) of each channel, below 0 that of 0 plus x; the exponent is 0 or more. */
export const powerStep = (s: {
  offset?: number;
  scale?: number;
  exponent: number;
  gain?: number;
  base?: number;
}): KernelStep => [3, s.offset ?? 0, s.scale ?? 1, s.exponent, s.gain ?? 1, s.base ?? 0];
/** Red, green and blue through a 3x3 matrix, row by row. */
export const matrixStep = (rows: readonly (readonly number[])[]): KernelStep => [4, ...rows.flat()];
/** max(0, x * slope + offset) ^ power, channel by channel, below 0 that of 0 plus x; and the distance from luma times saturation. */
export const slopeStep = (
  slope: readonly number[],
  offset: readonly number[],
  power: readonly number[],
  saturation: number,
): KernelStep => [5, ...slope, ...offset, ...power, saturation];
/** A multiplier of each channel for dark, middle and light pixels. */
export const rangesStep = (
  dark: readonly number[],
  middle: readonly number[],
  light: readonly number[],
): KernelStep => [6, ...dark, ...middle, ...light];

/** A range of saturation or lightness, 0 to 1. */
interface Range {
  from: number;
  to: number;
  soft: number;
}
/** Which pixels a step counts for, by what they are in the picture as rendered; hue in degrees. See `corrections/limit.ts`. */
export interface KernelLimit {
  hue: number;
  width: number;
  hueSoft: number;
  saturation: Range;
  lightness: Range;
}

const limitNumbers = ({ hue, width, hueSoft, saturation, lightness }: KernelLimit): number[] => [
  1,
  Math.cos((hue * Math.PI) / 180),
  Math.sin((hue * Math.PI) / 180),
  width / 2,
  hueSoft,
  ...[saturation, lightness].flatMap(({ from, to, soft }) => [from, to, soft]),
];

/** A step, its amount, and its limit. */
const STEP_NUMBERS = 32;
const AMOUNT_AT = 15;
const LIMIT_AT = 16;
const PROGRAM = 4096;
const MOST_STEPS = PROGRAM / STEP_NUMBERS;

/** A step of a change with what every correction has. */
export interface ProgramStep {
  kernel: KernelStep;
  amount: number;
  limit?: KernelLimit | undefined;
}

/** The tile that the kernel works on; the arrays are its memory. */
export interface TileKernel {
  r: Float32Array;
  g: Float32Array;
  b: Float32Array;
  cover: Float32Array;
  /** The same tile of the picture as rendered: what limits go by. */
  rendered: { r: Float32Array; g: Float32Array; b: Float32Array };
  /** RGBA of what {@link TileKernel.show} made. */
  bytes: Uint8Array;
  /** Applies steps, at most 128, each as much as its amount, 0 to 1, and its limit say, through `cover`. */
  change(steps: readonly ProgramStep[]): void;
  /**
   * Makes bytes of the tile, so many stops brighter; `toScreen` is a matrix that its planes go through before, in place.
   * By the sRGB curve unless there is another.
   */
  show(stops: number, toScreen?: readonly (readonly number[])[], curve?: ShowCurve): void;
  /**
   * Halves the side of the bytes, in place, so many times: means of four pixels as they are shown. Of the tile, `width`
   * by `height` pixels belong to the picture; beyond them the last ones stand in.
   */
  halve(times: number, width: number, height: number): void;
}

/** How a scene-linear value of a channel is shown, from 0 to 255; from 16 on it is what it is at 16. */
export interface ShowCurve {
  /** Tells curves apart. */
  key: string;
  of(value: number): number;
}

const SRGB: ShowCurve = { key: '', of: displayByte };
/** Exponents from 2^-14 to 2^3, 1024 steps each. */
const TABLE = 18 * 1024;

let made: TileKernel | undefined;

export function tileKernel(): TileKernel {
  if (made) return made;
  const k = loadKernel<Exports>(BYTES);
  const { buffer } = k.memory;
  // Its memory is fixed: the views stay good.
  const plane = (at: number) => new Float32Array(buffer, at, TILE_PIXELS);
  const program = new Float32Array(buffer, k.programAt(), PROGRAM);
  const table = new Uint8Array(buffer, k.tableAt(), TABLE);
  const bits = new Uint32Array(1);
  const value = new Float32Array(bits.buffer);
  let filled: string | undefined;
  const fill = ({ key, of }: ShowCurve) => {
    if (filled === key) return;
    filled = key;
    for (let i = 0; i < TABLE; i++) {
      // The middle of what falls on this entry; all that is darker falls on the first.
      bits[0] = 0x38800000 + (i << 13) + (1 << 12);
      table[i] = Math.round(Math.min(255, Math.max(0, of(i === 0 ? 0 : value[0]!))));
    }
  };
  const colours = (first: number) => ({
    r: plane(first),
    g: plane(first + 4 * TILE_PIXELS),
    b: plane(first + 8 * TILE_PIXELS),
  });
  made = {
    ...colours(k.planesAt()),
    rendered: colours(k.renderedAt()),
    cover: plane(k.coverAt()),
    bytes: new Uint8Array(buffer, k.bytesAt(), 4 * TILE_PIXELS),
    change(steps) {
      if (steps.length > MOST_STEPS) throw new Error('These are too many corrections in one change.');
      steps.forEach(({ kernel, amount, limit }, i) => {
        const at = i * STEP_NUMBERS;
        program.set(kernel, at);
        program[at + AMOUNT_AT] = amount;
        program.set(limit ? limitNumbers(limit) : [0], at + LIMIT_AT);
      });
      k.change(steps.length);
    },
    show(stops, toScreen, curve = SRGB) {
      fill(curve);
      if (toScreen) {
        program.set(toScreen.flat());
        k.recolour();
      }
      k.show(2 ** stops);
    },
    halve: (times, width, height) => k.halve(times, width, height),
  };
  return made;
}
