const { abs } = Math;

/** Largest number of 32 bits. */
export const MOST = 3.4028234663852886e38;

/** True for a colour of which every part is a finite number of 32 bits. */
export const finite = (r: number, g: number, b: number): boolean =>
  abs(r) <= MOST && abs(g) <= MOST && abs(b) <= MOST;
