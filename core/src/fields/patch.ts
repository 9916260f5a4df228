/**
 * What differs between two values that could be written as JSON: a new value, or differences by keys, or by places of a
 * list. Whoever holds the one value has the other by this: a worker that is shown another view, a history of many steps.
 */
export type Patch =
  | { to: unknown }
  | { keys: { [key: string]: Patch }; gone?: string[] }
  | { places: { [index: number]: Patch }; length: number; more?: unknown[] };

type Plain = Record<string, unknown>;
const isPlain = (v: unknown): v is Plain => typeof v === 'object' && v !== null && !Array.isArray(v);

/** The difference from one value to another, undefined if there is none. What is the very same object is not looked into. */
export function patchOf(before: unknown, now: unknown): Patch | undefined {
  if (Object.is(before, now)) return undefined;
  if (Array.isArray(before) && Array.isArray(now)) return placesOf(before, now);
  if (!isPlain(before) || !isPlain(now)) return { to: now };
  const keys: { [key: string]: Patch } = {};
  for (const key of Object.keys(now)) {
    // A key is asked of the value itself: a thing may be named as what every object has, `constructor` for one.
    const patch = Object.hasOwn(before, key) ? patchOf(before[key], now[key]) : { to: now[key] };
    if (patch) keys[key] = patch;
  }
  const gone = Object.keys(before).filter((key) => !Object.hasOwn(now, key));
  if (gone.length === 0) return Object.keys(keys).length === 0 ? undefined : { keys };
  return { keys, gone };
}

function placesOf(before: readonly unknown[], now: readonly unknown[]): Patch | undefined {
  const shared = Math.min(before.length, now.length);
  const places: { [index: number]: Patch } = {};
  for (let i = 0; i < shared; i++) {
    const patch = patchOf(before[i], now[i]);
    if (patch) places[i] = patch;
  }
  const more = now.slice(shared);
  if (now.length === before.length && Object.keys(places).length === 0) return undefined;
  return { places, length: now.length, ...(more.length ? { more } : {}) };
}

/** The value that a patch makes of another; what the patch does not touch is the very same object. */
export function patched(before: unknown, patch: Patch): unknown {
  if ('to' in patch) return patch.to;
  if ('places' in patch) {
    const list = (before as unknown[]).slice(0, patch.length);
    for (const [i, inner] of Object.entries(patch.places)) list[Number(i)] = patched(list[Number(i)], inner);
    return patch.more ? [...list, ...patch.more] : list;
  }
  const out: Plain = { ...(before as Plain) };
  for (const key of patch.gone ?? []) delete out[key];
  for (const [key, inner] of Object.entries(patch.keys)) out[key] = patched(out[key], inner);
  return out;
}

/**
 * A value in which all that is as it was in an earlier value is the very object of that: so that what was edited can be
 * told from what was not by identity, also where the whole was read or computed anew. Neither is changed.
 */
export function sharedWith<T>(before: unknown, now: T): T {
  if (Object.is(before, now) || typeof now !== 'object' || now === null) return now;
  if (Array.isArray(now)) {
    if (!Array.isArray(before)) return now;
    const own = now.map((v, i) => sharedWith<unknown>(before[i], v));
    const is = (other: readonly unknown[]) =>
      other.length === own.length && own.every((v, i) => Object.is(v, other[i]));
    return (is(before) ? before : is(now) ? now : own) as T;
  }
  if (!isPlain(before)) return now;
  const entries = Object.entries(now).map(([key, v]) => [key, sharedWith<unknown>(before[key], v)] as const);
  const is = (other: Plain) =>
    Object.keys(other).length === entries.length &&
    entries.every(([key, v]) => Object.hasOwn(other, key) && Object.is(v, other[key]));
  return (is(before) ? before : is(now as Plain) ? now : Object.fromEntries(entries)) as T;
}
