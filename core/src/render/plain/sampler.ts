/**
 * Sample points that are well spread in every pair of dimensions: the first two Sobol dimensions with hashed Owen
 * scrambling (Burley, "Practical Hash-based Owen Scrambling", JCGT 2020; hash of Laine and Karras as improved
 * there). A pixel's points depend on its coordinates, the seed and the sample number alone.
 */
function hash(v: number): number {
  v = Math.imul(v ^ (v >>> 16), 0x7feb352d);
  v = Math.imul(v ^ (v >>> 15), 0x846ca68b);
  return (v ^ (v >>> 16)) >>> 0;
}

function reverseBits(v: number): number {
  v = ((v >>> 1) & 0x55555555) | ((v & 0x55555555) << 1);
  v = ((v >>> 2) & 0x33333333) | ((v & 0x33333333) << 2);
  v = ((v >>> 4) & 0x0f0f0f0f) | ((v & 0x0f0f0f0f) << 4);
  v = ((v >>> 8) & 0x00ff00ff) | ((v & 0x00ff00ff) << 8);
  return ((v >>> 16) | (v << 16)) >>> 0;
}

/** Owen scrambling of a number whose bits are already reversed. */
function scrambleReversed(v: number, seed: number): number {
  v ^= Math.imul(v, 0x3d20adea);
  v = (v + seed) | 0;
  v = Math.imul(v, (seed >>> 16) | 1);
  v ^= Math.imul(v, 0x05526c56);
  return v ^ Math.imul(v, 0x53a22864);
}

const UNIT = 1 / 4294967296;

/**
 * The second Sobol dimension of a sample number, its bits reversed, is the exclusive or of one word for each bit of
 * the number: here tabulated by bytes, the lowest first.
 */
const SECOND = new Uint32Array(4 * 256);
for (let bit = 0, v = 0x80000000; bit < 32; bit++, v ^= v >>> 1)
  for (let byte = 0; byte < 256; byte++)
    if (byte & (1 << (bit & 7))) SECOND[256 * (bit >>> 3) + byte]! ^= reverseBits(v);

/** Points for one pixel sample after another. */
export class Sampler {
  private pixelSeed = 0;
  private index = 0;
  private readonly seedHash: number;
  /** The last point of {@link take}, each 0 to below 1. */
  x = 0;
  y = 0;

  constructor(seed: number) {
    this.seedHash = hash(seed);
  }

  start(px: number, py: number, sample: number): void {
    this.pixelSeed = hash(px ^ hash(py ^ this.seedHash));
    // The index is only ever asked for with its bits reversed.
    this.index = reverseBits(sample);
  }

  /**
   * Draws a pair of dimensions, by number: the same choice of a path always takes the same pair, so that a render
   * without light sees what the render with light saw.
   */
  take(pair: number): void {
    const seed = hash(this.pixelSeed + Math.imul(pair + 1, 0x9e3779b9));
    const index = reverseBits(scrambleReversed(this.index, seed));
    const second =
      SECOND[index & 255]! ^
      SECOND[256 + ((index >>> 8) & 255)]! ^
      SECOND[512 + ((index >>> 16) & 255)]! ^
      SECOND[768 + (index >>> 24)]!;
    this.x = (reverseBits(scrambleReversed(index, hash(seed + 1))) >>> 0) * UNIT;
    this.y = (reverseBits(scrambleReversed(second, hash(seed + 2))) >>> 0) * UNIT;
  }
}
