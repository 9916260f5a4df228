/**
 * How often the samples of each pixel of a rectangle saw which things, as linked lists in flat arrays: almost all
 * pixels see one or two things, a few see many. Plain data, so that it travels between threads without copying.
 */
export interface Sightings {
  /** For each pixel its first entry, -1 for none. */
  head: Int32Array;
  thing: Int32Array;
  weight: Float64Array;
  next: Int32Array;
  used: number;
}

export const noSightings = (pixels: number): Sightings => ({
  head: new Int32Array(pixels).fill(-1),
  thing: new Int32Array(2 * pixels),
  weight: new Float64Array(2 * pixels),
  next: new Int32Array(2 * pixels),
  used: 0,
});

/** Notes that a sample of a pixel saw a thing. */
export function addSighting(s: Sightings, pixel: number, thing: number, weight: number): void {
  for (let e = s.head[pixel]!; e >= 0; e = s.next[e]!)
    if (s.thing[e] === thing) {
      s.weight[e]! += weight;
      return;
    }
  if (s.used === s.thing.length) {
    const grow = <T extends Int32Array | Float64Array>(from: T, to: T): T => {
      to.set(from as never);
      return to;
    };
    s.thing = grow(s.thing, new Int32Array(2 * s.used + 2));
    s.next = grow(s.next, new Int32Array(2 * s.used + 2));
    s.weight = grow(s.weight, new Float64Array(2 * s.used + 2));
  }
  const e = s.used++;
  s.thing[e] = thing;
  s.weight[e] = weight;
  s.next[e] = s.head[pixel]!;
  s.head[pixel] = e;
}

/** Buffers to hand over to another thread. */
export const sightingBuffers = (s: Sightings): ArrayBufferLike[] => [
  s.head.buffer,
  s.thing.buffer,
  s.weight.buffer,
  s.next.buffer,
];

/**
 * Turns one pixel's sightings into ranks of falling coverage; ties in order of ID, so that the result does not
 * depend on the order of samples. Sightings with the same ID are added up; ID 0 is left out.
 */
export class RankSorter {
  private readonly ids: number[] = [];
  private readonly weights: number[] = [];

  /** @param idOf for each thing its ID, 0 for none; @param total weight of full coverage */
  write(
    s: Sightings,
    pixel: number,
    total: number,
    idOf: Uint32Array,
    at: number,
    ids: Uint32Array[],
    coverage: Float32Array[],
  ): void {
    let count = 0;
    for (let e = s.head[pixel]!; e >= 0; e = s.next[e]!) {
      const id = idOf[s.thing[e]!]!;
      if (id === 0) continue;
      let i = 0;
      while (i < count && this.ids[i] !== id) i++;
      if (i === count) {
        this.ids[count] = id;
        this.weights[count++] = s.weight[e]!;
      } else this.weights[i]! += s.weight[e]!;
    }
    for (let rank = 0; rank < ids.length && rank < count; rank++) {
      let best = rank;
      for (let i = rank + 1; i < count; i++)
        if (
          this.weights[i]! > this.weights[best]! ||
          (this.weights[i] === this.weights[best] && this.ids[i]! < this.ids[best]!)
        )
          best = i;
      const [id, weight] = [this.ids[best]!, this.weights[best]!];
      this.ids[best] = this.ids[rank]!;
      this.weights[best] = this.weights[rank]!;
      ids[rank]![at] = id;
      coverage[rank]![at] = weight / total;
    }
  }
}
