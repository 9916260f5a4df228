/** Bytes for people. */
export function inBytes(bytes: number): string {
  const units = ['B', 'kB', 'MB', 'GB', 'TB'];
  let [value, unit] = [bytes, 0];
  for (; value >= 1000 && unit < units.length - 1; unit++) value /= 1000;
  return `${value < 10 && unit > 0 ? value.toFixed(1) : Math.round(value)} ${units[unit]!}`;
}
/** A time for people. */
export function inTime(seconds: number): string {
  if (seconds < 90) return `${Math.max(1, Math.round(seconds))} s`;
  return seconds < 5400 ? `${Math.round(seconds / 60)} min` : `${(seconds / 3600).toFixed(1)} h`;
}
