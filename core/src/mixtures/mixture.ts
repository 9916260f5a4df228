/**
 * What the mixed pixels of a tile are made of: C = Σ aᵢFᵢ, the colours Fᵢ of the members that they show, and their
 * coverages aᵢ. A pixel that shows one member alone is not among them: it is its own colour.
 */
export interface Mixtures {
  /** Mixed pixels, and parts of all of them. */
  pixels: number;
  parts: number;
  /** Place of each pixel in the tile, rising; the first of its parts, and at the end the number of parts. */
  place: Uint16Array;
  first: Uint32Array;
  /** Of each part: slot in the layer's index, or OTHERS; coverage; colour, scene-linear. */
  slot: Uint32Array;
  coverage: Float32Array;
  r: Float32Array;
  g: Float32Array;
  b: Float32Array;
}

/** In place of a slot: all members that are not told apart in a pixel. */
export const OTHERS = 0xffffffff;
/** Members of a pixel that are told apart, all others among them. */
export const PARTS = 4;

/** Mixtures in one piece of memory, for other threads. */
export function packMixtures(m: Mixtures, allocate: (bytes: number) => ArrayBufferLike): ArrayBufferLike {
  const packed = allocate(bytesOf(m.pixels, m.parts));
  new Uint32Array(packed, 0, 2).set([m.pixels, m.parts]);
  const to = unpackMixtures(packed);
  to.place.set(m.place.subarray(0, m.pixels));
  to.first.set(m.first.subarray(0, m.pixels + 1));
  to.slot.set(m.slot.subarray(0, m.parts));
  for (const k of ['coverage', 'r', 'g', 'b'] as const) to[k].set(m[k].subarray(0, m.parts));
  return packed;
}

const bytesOf = (pixels: number, parts: number) => 8 + 4 * (pixels + 1) + 20 * parts + 2 * pixels;

/** The same again, without a copy. */
export function unpackMixtures(packed: ArrayBufferLike): Mixtures {
  const [pixels, parts] = new Uint32Array(packed, 0, 2) as unknown as [number, number];
  let at = 8;
  const words = <T>(make: new (b: ArrayBufferLike, at: number, n: number) => T, n: number, bytes = 4): T => {
    const view = new make(packed, at, n);
    at += n * bytes;
    return view;
  };
  return {
    pixels,
    parts,
    first: words(Uint32Array, pixels + 1),
    slot: words(Uint32Array, parts),
    coverage: words(Float32Array, parts),
    r: words(Float32Array, parts),
    g: words(Float32Array, parts),
    b: words(Float32Array, parts),
    place: words(Uint16Array, pixels, 2),
  };
}
