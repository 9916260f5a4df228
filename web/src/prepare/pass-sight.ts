import { numbersOf, passColours, passKind, type PassUse, type Roster } from '@zesty-crow/core';

/** What a pass looks like before it is rendered: the colour of each thing, 0 to 1, and what is written on it. */
export interface PassSight {
  colourOf(objectPath: string, material: string): readonly [number, number, number];
  /** A text for each object, by path; empty where the pass has none. */
  labels: ReadonlyMap<string, string>;
}

const keyOf = (objectPath: string, material: string) => `${objectPath}\n${material}`;

/** What an ID pass of the plan looks like; undefined for a pass that holds no IDs. */
export function passSight(use: PassUse, roster: Roster): PassSight | undefined {
  const kind = passKind(use.kind);
  const colours = kind && passColours(kind, use.values, roster);
  if (!colours) return undefined;
  const labels = new Map<string, string>();
  const found = new Map<string, readonly [number, number, number]>();
  roster.parts.forEach((p, i) => {
    const object = roster.objects[p.object]!;
    found.set(keyOf(object.source, roster.materials[p.material]!.source), colours[i]!);
  });
  if (use.kind === 'number-pass')
    numbersOf(use.values, roster).forEach((n, i) => {
      const { source } = roster.objects[roster.parts[i]!.object]!;
      // Parts of one object may have other materials, and so other numbers.
      const before = labels.get(source);
      const own = n > 0 ? String(n) : 'none';
      labels.set(source, before === undefined || before === own ? own : `${before}, ${own}`);
    });
  return {
    colourOf: (object, material) => found.get(keyOf(object, material)) ?? [0, 0, 0],
    labels,
  };
}
