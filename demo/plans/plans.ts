import { DEFAULT_RENDER, emptyPlan, PASSES, type PassUse, type Plan, type Wish } from '@zesty-crow/core';

const pass = (
  id: string,
  kind: string,
  values: Record<string, unknown> = {},
  depth: PassUse['depth'] = 'float',
): PassUse => ({ id, kind, on: true, depth, values });

const wish = (
  id: string,
  words: string,
  layer: 'objects' | 'materials' | 'groups',
  member: string,
  more: { rule?: boolean; throughGlass?: boolean } = {},
): Wish => ({
  id,
  words,
  who: [{ mode: 'with', layer, member, ...(more.rule ? { rule: true } : {}) }],
  throughGlass: more.throughGlass ?? false,
});

const cryptos = [
  pass('objects', 'cryptomatte', { by: 'object', ranks: 6 }),
  pass('materials', 'cryptomatte', { by: 'material', ranks: 6 }),
];
const through = (by: string) => [
  pass('through', 'through-glass', { way: 'refraction', depth: 1, roughness: 0.3, by, ranks: 4 }),
  pass('mirrored', 'through-glass', { way: 'reflection', depth: 1, roughness: 0.3, by, ranks: 4 }),
];

/** Data passes that corrections work with, but for those that a plan has anyway. */
export const dataPasses = (there: readonly PassUse[]): PassUse[] =>
  [
    pass('occlusion', 'ambient-occlusion', { distance: 0.2 }, 'half'),
    pass('depth', 'depth', { near: 0, far: 0 }, 'half'),
    pass('normals', 'normals', {}, 'half'),
    pass('base', 'base-colour', {}, 'half'),
  ].filter((p) => !there.some((t) => t.kind === p.kind));

/** The light apart, by its way and by where it comes from: either adds up to the picture. */
export const lightPasses = (): PassUse[] =>
  PASSES.filter((p) => p.group === 'light').map(({ kind }) => pass(kind, kind, {}, 'half'));

/** What the beekeeper may still want of the honey table, and the passes for it. */
export const honeyTablePlan = (): Plan => ({
  ...emptyPlan(),
  objects: { 'jars/jar_2': { number: 2 }, smoker: { number: 3 } },
  rules: [{ what: 'objects', pattern: 'bees/*', number: 20, countUp: true }],
  wishes: [
    wish('lids', 'Lids in another colour', 'materials', 'lid_enamel', { throughGlass: true }),
    wish('brass', 'Brass calmer or warmer', 'materials', 'brass'),
    wish('lavender', 'All lavender stronger', 'objects', 'lavender/sprig_*', { rule: true }),
    wish('honey', 'Honey darker', 'materials', 'honey', { throughGlass: true }),
    wish('hero', 'Only the jar in the middle', 'groups', 'jars/jar_2'),
  ],
  passes: [
    ...cryptos,
    ...through('material'),
    pass('hero', 'object-buffer', { who: { of: 'object number', number: 2 } }),
  ],
  output: { pattern: '{shot}_v{version}_{layers}', idsApart: true, compression: 'zip' },
  render: { ...DEFAULT_RENDER, samples: 1024, doneWhen: 'time', minutes: 5 },
});

/** The bee's flight: a short sequence with blur, glass and mirrors. */
export const beeFlightPlan = (frames: number): Plan => ({
  ...emptyPlan(),
  wishes: [
    wish('bee', 'The flying bee more golden', 'objects', 'bees/bee_flying'),
    wish('brass', 'Brass like copper', 'materials', 'brass'),
    wish('honey', 'Honey lighter, in the brass too', 'objects', 'jars/*/honey', {
      rule: true,
      throughGlass: true,
    }),
    wish('front', 'The sprig in front out of the way', 'groups', 'foreground'),
  ],
  passes: [
    ...cryptos,
    ...through('object'),
    // In the brass the honey is seen through its jar: one thing further behind.
    pass('mirrored-2', 'through-glass', {
      way: 'reflection',
      depth: 2,
      roughness: 0.3,
      by: 'object',
      ranks: 2,
    }),
    pass('depth', 'depth', { near: 0, far: 0 }, 'half'),
    pass('motion', 'motion', {}, 'half'),
    pass('puzzle', 'puzzle-matte', {
      set: 1,
      r: { of: 'objects', members: ['bees/*'] },
      g: { of: 'materials', members: ['brass'] },
      b: { of: 'objects', members: ['jars/*'] },
    }),
  ],
  output: { pattern: '{shot}_v{version}.{frame}', idsApart: false, compression: 'zip' },
  render: { ...DEFAULT_RENDER, width: 480, height: 270, samples: 96, shutter: 0.5, last: frames },
});
