/**
 * A power that goes on below 0 as the mirror image, so that what is out of range stays there and is never lost. No
 * number gives one that is not: 0 to the power of 0 is 1.
 */
export const signedPower = (x: number, exponent: number): number =>
  exponent === 1 ? x : x < 0 ? -((-x) ** exponent) : x ** exponent;
