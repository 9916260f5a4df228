/**
 * The part of a file that a `Range` header asks for (RFC 9110, section 14): first and one past the last byte.
 * `whole` if there is no header, or one that may be passed over: another unit, or several parts at once.
 */
export function rangeOf(
  header: string | undefined,
  size: number,
): { from: number; to: number } | 'whole' | 'outside' {
  const match = header === undefined ? null : /^bytes=(\d*)-(\d*)$/.exec(header.trim());
  if (!match || (match[1] === '' && match[2] === '')) return 'whole';
  if (match[1] === '') {
    const last = Math.min(size, Number(match[2]));
    return last > 0 ? { from: size - last, to: size } : 'outside';
  }
  const from = Number(match[1]);
  const to = match[2] === '' ? size : Math.min(size, Number(match[2]) + 1);
  if (match[2] !== '' && Number(match[2]) < from) return 'whole';
  return from < size ? { from, to } : 'outside';
}
