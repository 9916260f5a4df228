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

/** Points for one pixel sample after another. */
export class Sampler {
  private pixelSeed = 0;
  private index = 0;
  /** The last point of {@link take}, each 0 to below 1. */
  x = 0;
  y = 0;

  constructor(private readonly seed: number) {}

  start(px: number, py: number, sample: number): void {
    this.pixelSeed = hash(px ^ hash(py ^ hash(this.seed)));
    this.index = sample;
  }

  /**
   * Draws a pair of dimensions, by number: the same choice of a path always takes the same pair, so that a render
   * without light sees what the render with light saw.
   */
  take(pair: number): void {
    const seed = hash(this.pixelSeed + Math.imul(pair + 1, 0x9e3779b9));
    const index = reverseBits(scrambleReversed(reverseBits(this.index), seed));
    let second = 0;
    for (let i = index, v = 0x80000000; i; i >>>= 1, v ^= v >>> 1) if (i & 1) second ^= v;
    this.x = (reverseBits(scrambleReversed(index, hash(seed + 1))) >>> 0) * UNIT;
    this.y = (reverseBits(scrambleReversed(reverseBits(second), hash(seed + 2))) >>> 0) * UNIT;
  }
}
