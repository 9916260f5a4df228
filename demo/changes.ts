import type { Change, ChangeList, StepUse, Variant } from '@zesty-crow/core/changes';
import type { MemberPick } from '@zesty-crow/core/picks';

const pick = (layer: string, member: string, rule = false): MemberPick =>
  rule ? { mode: 'with', layer, member, rule } : { mode: 'with', layer, member };

type Step = Omit<StepUse, 'id' | 'on'>;
const steps = (id: string, uses: Step[]): StepUse[] =>
  uses.map((u, i) => ({ ...u, id: `${id}-${i}`, on: true }));

const change = (
  id: string,
  words: string,
  who: MemberPick[],
  corrections: Step[],
  edge: Step[] = [],
): Change => ({
  id,
  words,
  on: true,
  done: false,
  who,
  edge: steps(`${id}-edge`, edge),
  fence: [],
  brush: [],
  plainEdges: false,
  corrections: steps(id, corrections),
});

/** What the beekeeper asked for, begun but not finished. */
export const demoChanges = (): ChangeList => ({
  format: 'zesty-crow/changes',
  version: 7,
  variants: [],
  headings: [],
  changes: [
    change(
      'demo-lids',
      'Lids in the green of the hive',
      [pick('CryptoMaterial', 'lid_enamel')],
      [{ kind: 'hue-saturation-lightness', values: { hue: 150, saturation: -35, lightness: -8 } }],
    ),
    change(
      'demo-lavender',
      'Lavender could sing a little more, but not its stems',
      [pick('CryptoObject', 'lavender/sprig_*', true)],
      [
        {
          kind: 'hue-saturation-lightness',
          values: { saturation: 40, lightness: 12, limitHue: 300, limitHueWidth: 90, limitHueSoft: 30 },
        },
      ],
    ),
    change(
      'demo-smoker',
      'Calm the brass',
      [pick('CryptoMaterial', 'brass')],
      [
        { kind: 'contrast', values: { contrast: -25, pivot: 0.25 } },
        { kind: 'white-balance', values: { kelvin: 5600 } },
        { kind: 'multiply-by-pass', values: { pass: 'occlusion', amount: 70 } },
      ],
    ),
    change(
      'demo-table',
      'The table softer, so that the jars stand out',
      [pick('CryptoMaterial', 'linen')],
      [{ kind: 'blur', values: { size: 5 } }],
      [{ kind: 'feather', values: { size: 2 } }],
    ),
  ],
});

/** Colours that the lavender of the flight is tried in. */
const LAVENDERS: [name: string, hue: number, saturation: number][] = [
  ['Rose lavender', 60, 10],
  ['Blue lavender', -35, 15],
  ['White lavender', 0, -85],
];

/** What was asked for of the bee's flight: a light that goes with the bee, lavender in three colours, brass that calms down. */
export function flightChanges(): ChangeList {
  const around: Change = {
    ...change(
      'flight-around',
      'All but the bee a little darker, wherever it flies',
      [
        pick('CryptoObject', '*', true),
        { mode: 'without', layer: 'CryptoObject', member: 'bees/bee_flying' },
      ],
      [{ kind: 'exposure', values: { stops: -0.8 } }],
    ),
    // A ramp that is cut out: nothing is darkened where the bee is.
    fence: [
      { id: 'flight-all', kind: 'rectangle', on: true, values: { width: 300, height: 300 } },
      {
        id: 'flight-bee',
        kind: 'round-ramp',
        on: true,
        values: { x: 9.5, y: 19.4, inner: 6, outer: 26, join: 'cut' },
        follow: { layer: 'CryptoObject', member: 'bees/bee_flying', from: [9.466, 19.429] },
      },
    ],
  };
  const lavender = change(
    'flight-lavender',
    'Lavender in other colours, please: rose, blue, white',
    [pick('CryptoMaterial', 'lavender')],
    [{ kind: 'hue-saturation-lightness', values: { saturation: 20 } }],
  );
  const calm = change(
    'flight-brass',
    'The smoker glares at first, later it may shine',
    [pick('CryptoMaterial', 'brass')],
    [{ kind: 'exposure', values: { stops: -0.9 } }],
  );
  const keys: StepUse['keys'] = {
    stops: [
      { frame: 1, value: -0.9, way: 'eased' },
      { frame: 10, value: 0, way: 'linear' },
    ],
  };
  const brass = { ...calm, corrections: calm.corrections.map((use) => ({ ...use, keys })) };
  const variants = LAVENDERS.map(([name, hue, saturation], i): Variant => ({
    id: `flight-variant-${i}`,
    name,
    sets: [
      {
        change: lavender.id,
        step: lavender.corrections[0]!.id,
        kind: 'hue-saturation-lightness',
        values: { hue, saturation },
      },
    ],
  }));
  return {
    format: 'zesty-crow/changes',
    version: 7,
    variants,
    headings: [],
    changes: [around, lavender, brass],
  };
}
