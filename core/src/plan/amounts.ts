/** Bytes for people. */
export function megabytes(bytes: number): string {
  const mb = bytes / 2 ** 20;
  return `${mb < 10 ? mb.toFixed(mb < 0.1 ? 2 : 1) : Math.round(mb).toLocaleString('en')} MB`;
}

/** Seconds for people. */
export function duration(seconds: number): string {
  if (seconds < 0.95) return `${seconds.toFixed(2)} s`;
  if (seconds < 100) return `${seconds.toFixed(seconds < 10 ? 1 : 0)} s`;
  const minutes = seconds / 60;
  if (minutes < 100) return `${Math.round(minutes)} min`;
  return `${(minutes / 60).toFixed(1)} h`;
}

/** A share of one in percent, with a decimal where it is small: "12 %", "4.0 %". */
export const percent = (share: number): string => `${(100 * share).toFixed(share < 0.0995 ? 1 : 0)} %`;
