import type { FieldValue, FieldValues, PointsValue } from '../fields/field.ts';
import { neutralValues } from '../fields/values.ts';
import { displayOf, type Size } from '../planes/size.ts';
import type { Change, ChangeList, Heading, Masked, StepUse, VariantSet } from './change.ts';
import { settingsOfStep, STEP_KEYS, type StepKey } from './step-settings.ts';

/** How a value that is placed in the picture is to be read: across, down, both, or a length. */
type Reading = 'across' | 'down' | 'points' | 'length' | 'diagonal';

const SHAPE: Readonly<Record<string, Reading>> = {
  ...{ x: 'across', toX: 'across', y: 'down', toY: 'down', points: 'points' },
  ...{ width: 'length', height: 'length', soft: 'length', inner: 'length', outer: 'length' },
};
/** Corrections that are placed, by kind. */
const CORRECTIONS: Readonly<Record<string, Readonly<Record<string, Reading>>>> = {
  vignette: { size: 'diagonal', soft: 'diagonal' },
  'place-picture': { corners: 'points' },
};

/** Which settings of a step are places, and how they are to be read. */
function readingsOf(key: StepKey, kind: string): [string, Reading][] {
  const all = key === 'fence' ? SHAPE : key === 'corrections' ? (CORRECTIONS[kind] ?? {}) : {};
  const own = new Set(settingsOfStep(key, kind).map((f) => f.key));
  return Object.entries(all).filter(([name]) => own.has(name));
}

/** Whether a kind of correction is placed by shares of the picture. */
export const isPlaced = (kind: unknown): boolean => typeof kind === 'string' && kind in CORRECTIONS;

/** Shares of the whole picture, as lists before version 7 have them, as shares of its display window. */
class ToDisplay {
  private readonly from: { x: number; y: number };
  private readonly by: { x: number; y: number; diagonal: number };

  constructor(size: Size) {
    const { x0, y0, x1, y1 } = displayOf(size);
    const { width, height } = size;
    this.from = { x: (100 * x0) / width, y: (100 * y0) / height };
    const diagonal = Math.hypot(width, height) / Math.hypot(x1 - x0, y1 - y0);
    this.by = { x: width / (x1 - x0), y: height / (y1 - y0), diagonal };
  }
  across(x: number): number {
    return (x - this.from.x) * this.by.x;
  }
  down(y: number): number {
    return (y - this.from.y) * this.by.y;
  }
  point([x, y]: readonly [number, number]): [number, number] {
    return [this.across(x), this.down(y)];
  }
  length(share: number): number {
    return share * this.by.x;
  }

  /** A value of a step, within what its setting may be. */
  value(key: StepKey, kind: string, name: string, reading: Reading, value: FieldValue): FieldValue {
    if (reading === 'points') return (value as PointsValue).map((p) => this.point(p));
    const v = value as number;
    const read = {
      across: () => this.across(v),
      down: () => this.down(v),
      length: () => this.length(v),
      diagonal: () => v * this.by.diagonal,
    }[reading]();
    const field = settingsOfStep(key, kind).find((f) => f.key === name);
    return field?.kind === 'number' ? Math.min(field.max, Math.max(field.min, read)) : read;
  }

  /** Values of a step. With `whole`, what is left out has its neutral value, which is a place, too. */
  values(key: StepKey, kind: string, values: FieldValues, whole: boolean): FieldValues {
    const neutral = whole ? neutralValues(settingsOfStep(key, kind)) : {};
    const read = readingsOf(key, kind).flatMap(([name, reading]): [string, FieldValue][] => {
      const value = values[name] ?? neutral[name];
      return value === undefined ? [] : [[name, this.value(key, kind, name, reading, value)]];
    });
    return { ...values, ...Object.fromEntries(read) };
  }

  step(key: StepKey, use: StepUse): StepUse {
    const readings = new Map(readingsOf(key, use.kind));
    if (readings.size === 0) return use;
    const keys = Object.entries(use.keys ?? {}).map(([name, frames]) => {
      const reading = readings.get(name);
      return [
        name,
        reading
          ? frames.map((f) => ({ ...f, value: this.value(key, use.kind, name, reading, f.value) }))
          : frames,
      ];
    });
    return {
      ...use,
      values: this.values(key, use.kind, use.values, true),
      ...(use.keys ? { keys: Object.fromEntries(keys) as NonNullable<StepUse['keys']> } : {}),
      ...(use.follow ? { follow: { ...use.follow, from: this.point(use.follow.from) } } : {}),
    };
  }

  owner<T extends Masked & Partial<Pick<Change, 'corrections'>>>(owner: T): T {
    const { placesIn: _, ...rest } = owner;
    const steps = STEP_KEYS.flatMap((key) =>
      owner[key] ? [[key, owner[key].map((use) => this.step(key, use))] as const] : [],
    );
    return {
      ...(rest as T),
      ...Object.fromEntries(steps),
      brush: owner.brush.map((s) => ({
        ...s,
        size: Math.min(100, this.length(s.size)),
        points: s.points.map((p) => this.point(p)),
      })),
    };
  }
}

/**
 * A change or heading whose places go by the display window. One of an older list, whose places go by the whole picture,
 * is brought there for a picture of this size; where that has no overscan, both are the same.
 */
export function placedOver<T extends Masked & Partial<Pick<Change, 'corrections'>>>(owner: T, size: Size): T {
  return owner.placesIn === undefined ? owner : new ToDisplay(size).owner(owner);
}

/** Whether anything in a list still goes by the whole picture. */
export const isUnplaced = ({ changes, headings }: ChangeList): boolean =>
  [...changes, ...headings].some((o) => o.placesIn !== undefined);

/** A list whose places all go by the display window, brought there for a picture of this size. */
export function listPlacedOver(list: ChangeList, size: Size): ChangeList {
  const to = new ToDisplay(size);
  const before = new Set(list.changes.filter((c) => c.placesIn !== undefined).map((c) => c.id));
  const place = <T extends Change | Heading>(owner: T): T => placedOver(owner, size);
  const set = (s: VariantSet): VariantSet => {
    const change = list.changes.find((c) => c.id === s.change);
    const key = change && STEP_KEYS.find((k) => change[k].some((use) => use.id === s.step));
    if (!before.has(s.change) || !key || !s.values || s.kind === undefined) return s;
    return { ...s, values: to.values(key, s.kind, s.values, false) };
  };
  return {
    ...list,
    changes: list.changes.map(place),
    headings: list.headings.map(place),
    variants: list.variants.map((v) => ({ ...v, sets: v.sets.map(set) })),
  };
}
