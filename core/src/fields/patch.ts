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
    const patch = key in before ? patchOf(before[key], now[key]) : { to: now[key] };
    if (patch) keys[key] = patch;
  }
  const gone = Object.keys(before).filter((key) => !(key in now));
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
 * A copy of a value in which all that is as it was in an earlier copy is the very object of that: so that what was edited
 * can be told from what was not by identity. The value itself may be changed in place afterwards.
 * @param sealed true for objects that are never changed in place: they are copied once, and not looked into again
 */
export function copiedOnto<T>(before: unknown, now: T, sealed?: (value: object) => boolean): T {
  if (Object.is(before, now) || typeof now !== 'object' || now === null) return now;
  if (!sealed?.(now)) return copied(before, now, sealed);
  const known = copies.get(now) as T | undefined;
  if (known !== undefined) return known;
  const copy = copied(before, now, sealed);
  copies.set(now, copy as object);
  return copy;
}
/** Copies of what is sealed. */
const copies = new WeakMap<object, object>();

function copied<T>(before: unknown, now: T & object, sealed: ((value: object) => boolean) | undefined): T {
  if (Array.isArray(now)) {
    const old: readonly unknown[] = Array.isArray(before) ? before : [];
    const copy = now.map((v, i) => copiedOnto(old[i], v, sealed) as unknown);
    const same =
      Array.isArray(before) && old.length === copy.length && copy.every((v, i) => Object.is(v, old[i]));
    return (same ? before : copy) as T;
  }
  const old = isPlain(before) ? before : {};
  const copy: Plain = {};
  let same = isPlain(before);
  for (const [key, value] of Object.entries(now)) {
    // What is not set is as good as not there.
    if (value === undefined) continue;
    copy[key] = copiedOnto(old[key], value, sealed);
    same &&= Object.is(copy[key], old[key]);
  }
  same &&= Object.keys(old).length === Object.keys(copy).length;
  return (same ? before : copy) as T;
}
