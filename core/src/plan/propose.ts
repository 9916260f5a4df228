import { type Measured, planCost } from './cost.ts';
import type { PassUse, Plan, Wish } from './plan.ts';
import type { Who } from '../roster/names.ts';
import { partsOfPicks, partsOfWho, type Roster } from '../roster/roster.ts';
import { judgeWish, serves } from './wishes.ts';

const use = (id: string, kind: string, values: Record<string, unknown>): PassUse => ({
  id,
  kind,
  on: true,
  depth: 'float',
  values,
});

const CRYPTO_OBJECT = use('crypto-object', 'cryptomatte', { by: 'object', ranks: 6 });
const CRYPTO_MATERIAL = use('crypto-material', 'cryptomatte', { by: 'material', ranks: 6 });

/** The wanted parts as a list for a buffer or slot: whole objects or whole materials; undefined if they are neither. */
function whoFor(wanted: readonly number[], roster: Roster): Who | undefined {
  for (const what of ['objects', 'materials'] as const) {
    const entries = what === 'objects' ? roster.objects : roster.materials;
    const numbers = new Set(wanted.map((p) => roster.parts[p]![what === 'objects' ? 'object' : 'material']));
    const members = [...numbers].map((i) => entries[i]!.name);
    if (partsOfWho({ of: what, members }, roster).length === wanted.length) return { of: what, members };
  }
  return undefined;
}

/** Ways to serve one wish in the direct view. */
function candidates(wish: Wish, roster: Roster): PassUse[] {
  const wanted = partsOfPicks(wish.who, roster);
  const list = [CRYPTO_OBJECT, CRYPTO_MATERIAL];
  const who = whoFor(wanted, roster);
  if (who) list.unshift(use(`buffer-${wish.id}`, 'object-buffer', { who }));
  return list.filter((c) => serves(c, roster, wanted));
}

const through = (way: string, by: string) =>
  use(`through-${way}-${by}`, 'through-glass', { way, by, depth: 1, roughness: 0.3, ranks: 4 });

const bytesOf = (passes: readonly PassUse[], plan: Plan, roster: Roster, history: readonly Measured[]) =>
  planCost({ ...plan, passes: [...passes] }, roster, history, 1).bytes;

/** The pass that would serve a wish with the smallest files; undefined if nothing can. */
export function cheapestFor(
  wish: Wish,
  plan: Plan,
  roster: Roster,
  history: readonly Measured[],
): PassUse | undefined {
  const judged = judgeWish(wish, plan, roster);
  if (judged.direct.length > 0 && wish.throughGlass) {
    const wanted = judged.parts;
    return [through('refraction', 'object'), through('refraction', 'material')].find((c) =>
      serves(c, roster, wanted),
    );
  }
  const list = candidates(wish, roster).map((c) => ({ c, bytes: bytesOf([c], plan, roster, history) }));
  return list.sort((a, b) => a.bytes - b.bytes)[0]?.c;
}

/**
 * Passes that serve all wishes with the smallest files: puzzle mattes for few, cryptomattes for many. Data and light
 * passes of the plan stay; its ID passes are replaced.
 */
export function proposePasses(plan: Plan, roster: Roster, history: readonly Measured[]): PassUse[] {
  const kept = plan.passes.filter(
    (p) =>
      ![
        'cryptomatte',
        'object-buffer',
        'puzzle-matte',
        'number-pass',
        'flat-colour',
        'through-glass',
      ].includes(p.kind),
  );
  const wishes = plan.wishes.filter((w) => partsOfPicks(w.who, roster).length > 0);
  const parts = wishes.map((w) => partsOfPicks(w.who, roster));
  const whos = parts.map((p) => whoFor(p, roster));
  const puzzles: PassUse[] = [];
  if (whos.every((w) => w !== undefined))
    for (let i = 0; i < whos.length; i += 3)
      puzzles.push(
        use(`puzzle-${i / 3 + 1}`, 'puzzle-matte', {
          set: i / 3 + 1,
          ...Object.fromEntries(['r', 'g', 'b'].flatMap((k, n) => (whos[i + n] ? [[k, whos[i + n]]] : []))),
        }),
      );
  const sets = [[CRYPTO_OBJECT], [CRYPTO_MATERIAL], [CRYPTO_OBJECT, CRYPTO_MATERIAL]];
  if (puzzles.length) sets.unshift(puzzles);
  const able = sets.filter((set) => parts.every((p) => set.some((c) => serves(c, roster, p))));
  const best = able
    .map((set) => ({ set, bytes: bytesOf(set, plan, roster, history) }))
    .sort((a, b) => a.bytes - b.bytes)[0]?.set ?? [CRYPTO_OBJECT, CRYPTO_MATERIAL];
  const glassy = wishes.map((_, i) => parts[i]!).filter((_, i) => wishes[i]!.throughGlass);
  const layers: PassUse[] = [];
  if (glassy.length) {
    const all = (by: string) => glassy.every((p) => serves(through('refraction', by), roster, p));
    const bys = all('object') ? ['object'] : all('material') ? ['material'] : ['object', 'material'];
    for (const by of bys) layers.push(through('refraction', by), through('reflection', by));
  }
  return [...best, ...layers, ...kept];
}
