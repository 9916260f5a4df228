const short = (v: number): string => {
  const a = Math.abs(v);
  if (a !== 0 && (a < 0.001 || a >= 1e5)) return v.toExponential(1).replace('-', '−');
  return String(Number(v.toPrecision(3))).replace('-', '−');
};

/** From where to where values were found, as they are shown. */
export const rangeText = ({ from, to }: { from: number; to: number }): string =>
  `${short(from)} to ${short(to)}`;

/** A value under the pointer, with as many digits as say something. */
export const valueText = (v: number): string =>
  Number.isFinite(v)
    ? Number.isInteger(v) && Math.abs(v) < 1e7
      ? String(v)
      : short(Number(v.toPrecision(4)))
    : String(v);
