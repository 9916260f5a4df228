/** Counts which of a few things the samples of one pixel saw. */
export class SampleCounter {
  private readonly things = new Int32Array(256);
  private readonly counts = new Int32Array(256);
  private used = 0;

  clear(): void {
    this.used = 0;
  }

  /** Notes one sample that saw `thing`. The 256th different thing of a pixel and later ones are dropped. */
  see(thing: number): void {
    const { things, used } = this;
    for (let i = 0; i < used; i++)
      if (things[i] === thing) {
        this.counts[i]!++;
        return;
      }
    if (used === things.length) return;
    things[used] = thing;
    this.counts[used] = 1;
    this.used++;
  }

  /**
   * Writes the most frequent things as ranks of falling coverage; ties in order of ID, so that the result does not
   * depend on the order of samples.
   */
  write(at: number, total: number, idOf: Uint32Array, ids: Uint32Array[], coverage: Float32Array[]): void {
    const { things, counts } = this;
    for (let rank = 0; rank < ids.length && rank < this.used; rank++) {
      let best = rank;
      for (let i = rank + 1; i < this.used; i++)
        if (
          counts[i]! > counts[best]! ||
          (counts[i] === counts[best] && idOf[things[i]!]! < idOf[things[best]!]!)
        )
          best = i;
      const thing = things[best]!;
      const count = counts[best]!;
      things[best] = things[rank]!;
      counts[best] = counts[rank]!;
      things[rank] = thing;
      counts[rank] = count;
      ids[rank]![at] = idOf[thing]!;
      coverage[rank]![at] = count / total;
    }
  }
}
