import type { Change, ChangeList, StepUse } from '@zesty-crow/core/changes';
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
  version: 5,
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
