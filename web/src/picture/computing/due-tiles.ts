/**
 * Which tiles of a surface are to be sent. From afar a tile is sent at half, a quarter, … of its side, and again when
 * it is looked at from another distance; what was sent and has not changed is not sent twice.
 */
export class DueTiles {
  /** 1 for each tile that is to be sent as it is looked at now. */
  readonly due: Uint8Array;
  /** Sizes at which the screen has a tile as it is now, a bit for each number of halvings. */
  private readonly known: Uint8Array;
  private halvings = 0;

  /** @param known whether the screen already has all of them as they are */
  constructor(count: number, known: boolean) {
    this.due = new Uint8Array(count).fill(known ? 0 : 1);
    this.known = new Uint8Array(count).fill(known ? 0xff : 0);
  }

  get any(): boolean {
    return this.due.includes(1);
  }

  /** The tile, or each, is another one now. */
  touch(tile?: number): void {
    if (tile === undefined) {
      this.due.fill(1);
      this.known.fill(0);
    } else {
      this.due[tile] = 1;
      this.known[tile] = 0;
    }
  }

  /** From now on tiles are wanted with so many halvings. */
  want(halvings: number): void {
    if (halvings === this.halvings) return;
    this.halvings = halvings;
    for (let t = 0; t < this.due.length; t++) this.due[t] = this.known[t]! & (1 << halvings) ? 0 : 1;
  }

  /** Notes that a tile is sent; a tile that was computed anew is another one.
   * @returns the sizes at which the screen has it then */
  send(tile: number, anew = false): number {
    this.due[tile] = 0;
    this.known[tile] = (anew ? 0 : this.known[tile]!) | (1 << this.halvings);
    return this.known[tile]!;
  }
}
