import type { RenderSettings } from '../src/render/settings.ts';

/** How far a render is. */
export interface RenderProgress {
  /** Share of its work that is done, 0 to 1. */
  share: number;
  /** Samples a pixel that the round under way goes up to. */
  samples: number;
  /** The noise that 95 % of the pixels do not exceed, see `judge`; undefined before it can be told. */
  noise: number | undefined;
  /** Seconds that one more sample of every pixel takes; undefined while there is too little to go by. */
  perSample: number | undefined;
  /** Seconds until the end; undefined while there is too little to go by. */
  secondsLeft: number | undefined;
}

/** Rounds up to so many samples are dearer than later ones: nothing is told by what they took. */
const FIRST_TELLING = 4;

/** The speed is that of the last seconds, or of the last half of the time: others may be at work beside it for a while. */
const WINDOW = 6;
const MARK_EVERY = 0.5;
/** Seconds before a speed is told. */
const LEAST_TIME = 0.5;

/**
 * Tells how long a render will take by what its samples took. The time goes by the samples that were taken after the first
 * rounds, which are dearer: they find what is within reach of each pixel, and wait for code to be compiled.
 */
export class RenderClock {
  private readonly began = performance.now();
  private taken = 0;
  /** When how many samples had been taken, from the first telling rounds on, the earliest first. */
  private marks: { at: number; taken: number }[] = [];
  /** Seconds in which nothing was rendered. */
  private rest = 0;

  /** @param pixels that are sampled, so that sums of samples become samples a pixel */
  constructor(
    private readonly settings: Pick<RenderSettings, 'samples' | 'noise' | 'seconds'>,
    private pixels: number,
  ) {}

  get seconds(): number {
    return (performance.now() - this.began) / 1000;
  }

  /** Milliseconds until a render that ends after a time is over; undefined for others. */
  get millisecondsLeft(): number | undefined {
    return this.settings.seconds ? Math.max(0, 1000 * (this.settings.seconds - this.seconds)) : undefined;
  }

  /** So many samples were there before, summed over pixels. */
  goesOn(samples: number): void {
    this.taken = samples;
    this.marks = [{ at: 0, taken: samples }];
  }

  /** Samples were taken, summed over pixels. */
  add(samples: number, upTo: number): void {
    this.taken += samples;
    const now = { at: this.seconds - this.rest, taken: this.taken };
    if (upTo <= FIRST_TELLING) this.marks = [now];
    else if (now.at - this.marks.at(-1)!.at >= MARK_EVERY) this.marks.push(now);
    const since = now.at - Math.max(WINDOW, now.at / 2);
    while (this.marks.length > 1 && this.marks[1]!.at < since) this.marks.shift();
  }

  /** Only so many pixels are sampled: a patch leaves the others out. */
  sampled(pixels: number): void {
    this.pixels = Math.max(1, pixels);
  }

  /** For so many seconds nothing was rendered. */
  rested(seconds: number): void {
    this.rest += seconds;
  }

  /** Seconds until the end, as far as it is known. */
  left(upTo: number, noise: number | undefined, going: number): number {
    return this.progress(upTo, noise, going).secondsLeft ?? Infinity;
  }

  /** Samples a pixel on average. */
  get mean(): number {
    return this.taken / this.pixels;
  }

  /** Seconds that one more sample of every pixel takes. */
  private get perSample(): number | undefined {
    const [mark] = this.marks;
    if (!mark) return undefined;
    const [seconds, samples] = [this.seconds - this.rest - mark.at, (this.taken - mark.taken) / this.pixels];
    return samples > 0 && seconds > LEAST_TIME ? seconds / samples : undefined;
  }

  /** Samples that a pixel may have after the next round, so that it ends in time. */
  limit(from: number): number {
    const { samples, seconds } = this.settings;
    const one = this.perSample;
    if (!seconds) return samples;
    if (!one) return this.seconds < seconds ? samples : from;
    const more = (seconds - this.seconds) / one;
    // The last sample may come a little late, so that a short time is not left over.
    return more < 0.5 ? from : from + Math.max(1, Math.floor(more));
  }

  /**
   * How far the render is.
   * @param going share of the pixels that are not finished
   */
  progress(upTo: number, noise: number | undefined, going: number): RenderProgress {
    const { samples, seconds, noise: wanted } = this.settings;
    const one = this.perSample;
    if (seconds) {
      const left = Math.max(0, seconds - this.seconds);
      return {
        share: Math.min(1, this.seconds / seconds),
        samples: upTo,
        noise,
        perSample: one,
        secondsLeft: left,
      };
    }
    // Noise falls with the root of the samples, in the pixels that are still at work.
    const more =
      wanted && noise
        ? Math.max(0, Math.min(samples - upTo, upTo * ((noise / wanted) ** 2 - 1))) * going +
          Math.max(0, upTo - this.mean) * going
        : Math.max(0, samples - this.mean);
    const share = wanted && !noise ? this.mean / samples : this.mean / (this.mean + more || 1);
    return {
      share,
      samples: upTo,
      noise,
      perSample: one,
      secondsLeft: one && (!wanted || noise) ? one * more : undefined,
    };
  }
}
