import { compileGlob } from '../picks/glob.ts';
import { matchMembers } from '../picks/patterns.ts';
import type { MemberPick } from '../picks/member-pick.ts';
import { idOfName } from '../idlayers/ids.ts';
import type { Part, Scene } from '../scene/scene.ts';
import type { SceneOutline } from '../scene/outline.ts';
import type { SceneNames, Who } from './names.ts';

/** An object or material under the name and number that it was given. */
export interface RosterEntry {
  /** Path or name in the scene's file. */
  source: string;
  name: string;
  /** 0 for none. */
  number: number;
  /** Where the number comes from. */
  numberFrom: 'own' | 'group' | 'rule' | 'none';
}

export interface RosterGroup {
  path: string;
  name: string;
  /** Numbers of the objects anywhere below it, itself included if it is one. */
  objects: number[];
  /** 1 at the top. */
  level: number;
}

/** Everything in a scene that can be named: the finest pieces and how they are put together. */
export interface Roster {
  objects: RosterEntry[];
  materials: RosterEntry[];
  groups: RosterGroup[];
  /** Values of attributes by object. */
  attributes: Record<string, string>[];
  parts: Part[];
  /** Names of the lamps and suns. */
  lamps: string[];
}

const ancestors = (path: string): string[] => {
  const out: string[] = [];
  for (let cut = path.lastIndexOf('/'); cut > 0; cut = path.lastIndexOf('/', cut - 1))
    out.push(path.slice(0, cut));
  return out;
};

/** Puts the outline of a scene and what its things were called together. */
export function rosterOf(outline: SceneOutline, given: SceneNames): Roster {
  const nodes = outline.nodes.filter((n) => n.kind === 'object' && n.triangles > 0);
  const known = new Map(outline.nodes.map((n) => [n.path, n]));
  const objects = nodes.map((n): RosterEntry => {
    const own = given.objects[n.path];
    const entry: RosterEntry = { source: n.path, name: own?.name ?? n.path, number: 0, numberFrom: 'none' };
    if (own?.number !== undefined) Object.assign(entry, { number: own.number, numberFrom: 'own' });
    else
      for (const above of ancestors(n.path)) {
        const number = given.objects[above]?.number;
        if (number === undefined) continue;
        Object.assign(entry, { number, numberFrom: 'group' });
        break;
      }
    return entry;
  });
  const materials = outline.materials.map((source): RosterEntry => {
    const own = given.materials[source];
    return {
      source,
      name: own?.name ?? source,
      number: own?.number ?? 0,
      numberFrom: own?.number === undefined ? 'none' : 'own',
    };
  });
  for (const rule of given.rules) {
    const glob = compileGlob(rule.pattern);
    let number = rule.number;
    for (const entry of rule.what === 'objects' ? objects : materials) {
      if (entry.numberFrom !== 'none' || !glob(entry.name)) continue;
      entry.number = number;
      entry.numberFrom = 'rule';
      if (rule.countUp) number++;
    }
  }
  const at = new Map(objects.map((o, i) => [o.source, i]));
  const groups = new Map<string, RosterGroup>();
  objects.forEach((o, i) => {
    const own = outline.nodes.some((n) => n.parent === o.source) ? [o.source] : [];
    for (const path of [...own, ...ancestors(o.source)]) {
      if (!known.has(path)) continue;
      const group: RosterGroup = groups.get(path) ?? {
        path,
        name: given.objects[path]?.name ?? path,
        objects: [],
        level: path.split('/').length,
      };
      groups.set(path, group);
      group.objects.push(i);
    }
  });
  const materialAt = new Map(materials.map((m, i) => [m.source, i]));
  return {
    objects,
    materials,
    groups: [...groups.values()],
    attributes: nodes.map((n) => {
      // What a group says holds for all below, unless they say something else.
      const all: Record<string, string> = {};
      for (const a of ancestors(n.path).reverse()) Object.assign(all, known.get(a)?.attributes);
      return Object.assign(all, n.attributes);
    }),
    parts: nodes.flatMap((n) =>
      n.materials.map((m) => ({ object: at.get(n.path)!, material: materialAt.get(m)! })),
    ),
    lamps: outline.nodes.flatMap((n) => (n.kind === 'light' ? [n.path] : [])),
  };
}

/** For each part of a posed scene its place in the roster's list of parts. */
export function partsInScene(scene: Scene, roster: Roster): number[] {
  const key = (object: string, material: string) => `${object}\u0000${material}`;
  const at = new Map(
    roster.parts.map((p, i) => [
      key(roster.objects[p.object]!.source, roster.materials[p.material]!.source),
      i,
    ]),
  );
  return scene.parts.map(
    (p) => at.get(key(scene.objects[p.object]!.path, scene.materials[p.material]!.name)) ?? -1,
  );
}

const named = (entries: readonly { name: string }[]) =>
  entries.map((e, i) => ({ name: e.name, id: idOfName(e.name), i }));

/** Parts that a buffer or slot shows. Unknown names match nothing. */
export function partsOfWho(who: Who, roster: Roster): number[] {
  const wanted = new Set<number>();
  const materials = who.of === 'materials' || who.of === 'material number';
  const entries = materials ? roster.materials : roster.objects;
  if ('number' in who) entries.forEach((e, i) => who.number > 0 && e.number === who.number && wanted.add(i));
  else {
    const members = named(entries);
    for (const pattern of who.members) for (const m of matchMembers(pattern, members)) wanted.add(m.i);
    if (who.of === 'objects')
      for (const pattern of who.members)
        for (const group of matchMembers(pattern, named(roster.groups)))
          for (const object of roster.groups[group.i]!.objects) wanted.add(object);
  }
  return roster.parts.flatMap((p, i) => (wanted.has(materials ? p.material : p.object) ? [i] : []));
}

/** Parts that picks of the roster's layers `objects`, `materials` and `groups` mean. */
export function partsOfPicks(picks: readonly MemberPick[], roster: Roster): number[] {
  const chosen = new Set<number>();
  const of = (pick: MemberPick) => {
    const layer = pick.layer === 'materials' ? 'materials' : 'objects';
    if (pick.layer === 'groups') {
      const groups = matchMembers(pick.member, named(roster.groups)).map((g) => roster.groups[g.i]!);
      const objects = new Set(groups.flatMap((g) => g.objects));
      return roster.parts.flatMap((p, i) => (objects.has(p.object) ? [i] : []));
    }
    return partsOfWho({ of: layer, members: [pick.member] }, roster);
  };
  for (const pick of picks) if (pick.mode === 'with') of(pick).forEach((p) => chosen.add(p));
  for (const pick of picks) if (pick.mode === 'without') of(pick).forEach((p) => chosen.delete(p));
  for (const pick of picks)
    if (pick.mode === 'inside') {
      const inside = new Set(of(pick));
      for (const p of chosen) if (!inside.has(p)) chosen.delete(p);
    }
  return [...chosen].sort((a, b) => a - b);
}
