import type { Area } from '../planes/area.ts';
import { nextLevel, type Grid, type Round } from './rounds.ts';

/** One piece of work: a rectangle, by its number, and how many samples which of its pixels shall have. */
export interface Turn {
  number: number;
  upTo: number;
  grid: Grid;
}

/** So many times as many samples as elsewhere are taken where one looks. */
const AHEAD = 4;

const meet = (a: Area, b: Area) => a.x0 < b.x1 && b.x0 < a.x1 && a.y0 < b.y1 && b.y0 < a.y1;

/**
 * Whose turn it is: deals the rectangles of a picture out, round by round. Where one looks comes first, and runs ahead of
 * the rest; then where there is what is wanted soon; then the middle before the edges. How many samples a pixel has in the
 * end, and which, does not depend on it.
 */
export class Turns {
  /** Samples that all pixels of each rectangle have, as far as they are not finished. */
  private readonly levels: number[];
  private readonly wanted: boolean[];
  private readonly finished: boolean[];
  private looked: Area | undefined;
  private round: Round = { upTo: 0, grid: 16 };
  private due: number[] = [];
  private ahead: number[] = [];
  private readonly busy = new Set<number>();

  /**
   * @param areas from the middle outwards
   * @param most samples that no pixel gets more than
   * @param there samples that the pixels of each rectangle have already
   */
  constructor(
    private readonly areas: readonly Area[],
    private readonly most: number,
    there: readonly number[] = areas.map(() => 0),
  ) {
    this.levels = [...there];
    this.wanted = areas.map(() => false);
    this.finished = areas.map(() => false);
  }

  /** Begins a round over the rectangles that are not finished. */
  begin(round: Round, finished: (number: number) => boolean): void {
    this.round = round;
    this.areas.forEach((_, i) => (this.finished[i] = finished(i)));
    this.due = this.areas.flatMap((_, i) =>
      !this.finished[i] && (round.grid > 1 || this.levels[i]! < round.upTo) ? i : [],
    );
    this.sort();
    this.findAhead();
  }

  /** Nothing of this round is under way or left. */
  get over(): boolean {
    return this.due.length === 0 && this.busy.size === 0;
  }

  /** The next piece of work; undefined if there is none that could be done now. */
  next(): Turn | undefined {
    // What runs ahead has had its turn in this round.
    const at = this.due.length > 0 ? this.ahead.findIndex((i) => !this.busy.has(i)) : -1;
    if (at >= 0) {
      const [number] = this.ahead.splice(at, 1) as [number];
      this.busy.add(number);
      return { number, upTo: nextLevel(this.levels[number]!, this.most), grid: 1 };
    }
    const number = this.due.find((i) => !this.busy.has(i));
    if (number === undefined) return undefined;
    this.due.splice(this.due.indexOf(number), 1);
    this.busy.add(number);
    return { number, ...this.round };
  }

  /** A piece of work was done. */
  done({ number, upTo, grid }: Turn, finished: boolean): void {
    this.busy.delete(number);
    this.finished[number] = finished;
    if (grid > 1) return;
    this.levels[number] = upTo;
    if (!finished && this.runsAhead(number)) this.ahead.push(number);
  }

  /** Somebody looks at a part of the picture; undefined for all of it. */
  look(area: Area | undefined): void {
    this.looked = area;
    this.sort();
    this.findAhead();
  }

  /** In a rectangle there is, or is not, what is wanted soon. */
  want(number: number, wanted: boolean): void {
    this.wanted[number] = wanted;
  }

  private isLookedAt = (i: number) => this.looked !== undefined && meet(this.areas[i]!, this.looked);

  private runsAhead(i: number): boolean {
    const { upTo, grid } = this.round;
    const level = this.levels[i]!;
    // One that is still due in this round comes first anyway.
    return grid === 1 && this.isLookedAt(i) && level >= upTo && level < Math.min(this.most, AHEAD * upTo);
  }

  private findAhead(): void {
    this.ahead = this.areas.flatMap((_, i) =>
      !this.finished[i] && !this.busy.has(i) && this.runsAhead(i) ? i : [],
    );
  }

  private sort(): void {
    const rank = (i: number) => (this.isLookedAt(i) ? 0 : this.wanted[i] ? 1 : 2);
    this.due.sort((a, b) => rank(a) - rank(b) || a - b);
  }
}
