const UNITS: [Intl.RelativeTimeFormatUnit, number][] = [
  ['day', 86400],
  ['hour', 3600],
  ['minute', 60],
];
const words = new Intl.RelativeTimeFormat('en', { numeric: 'auto' });

/** How long ago a moment was, in words. */
export function ago(moment: string): string {
  const seconds = (Date.now() - Date.parse(moment)) / 1000;
  for (const [unit, length] of UNITS)
    if (seconds >= length) return words.format(-Math.floor(seconds / length), unit);
  return 'just now';
}
