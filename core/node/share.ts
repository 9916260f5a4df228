/**
 * A copy of a value whose arrays of numbers lie in memory that threads share: a scene of a million triangles is then
 * there once and not once a thread. An array that occurs several times is copied once; what has no arrays is kept.
 */
export function shareArrays<T>(value: T, known = new Map<unknown, unknown>()): T {
  if (value === null || typeof value !== 'object') return value;
  const met = known.get(value);
  if (met) return met as T;
  let made: unknown;
  if (ArrayBuffer.isView(value) && !(value instanceof DataView)) {
    const from = value as unknown as Uint8Array;
    const Kind = from.constructor as new (buffer: SharedArrayBuffer) => Uint8Array;
    const to = new Kind(new SharedArrayBuffer(from.byteLength));
    to.set(from);
    made = to;
  } else if (Array.isArray(value)) made = (value as unknown[]).map((v) => shareArrays(v, known));
  else made = Object.fromEntries(Object.entries(value).map(([k, v]) => [k, shareArrays(v, known)]));
  known.set(value, made);
  return made as T;
}
