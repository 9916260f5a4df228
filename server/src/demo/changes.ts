import type { Change, ChangeList, CorrectionUse } from '@zesty-crow/core/changes';
import type { MemberPick } from '@zesty-crow/core/picks';

const pick = (layer: string, member: string, rule = false): MemberPick =>
  rule ? { mode: 'with', layer, member, rule } : { mode: 'with', layer, member };

const change = (
  id: string,
  words: string,
  who: MemberPick[],
  corrections: Omit<CorrectionUse, 'id' | 'on'>[],
  on = true,
): Change => ({
  id,
  words,
  on,
  done: false,
  who,
  corrections: corrections.map((c, i) => ({ ...c, id: `${id}-${i}`, on: true })),
});

/** What the beekeeper asked for, begun but not finished. */
export const demoChanges = (): ChangeList => ({
  format: 'zesty-crow/changes',
  version: 1,
  changes: [
    change(
      'demo-lids',
      'Lids in the green of the hive',
      [pick('CryptoMaterial', 'lid_enamel')],
      [{ kind: 'hue-saturation-lightness', values: { hue: 150, saturation: -35, lightness: -8 } }],
    ),
    change(
      'demo-lavender',
      'Lavender could sing a little more',
      [pick('CryptoObject', 'lavender/sprig_*', true)],
      [
        { kind: 'exposure', values: { stops: 0.35 } },
        { kind: 'hue-saturation-lightness', values: { saturation: 25 } },
      ],
    ),
    change(
      'demo-smoker',
      'Calm the brass',
      [pick('CryptoMaterial', 'brass')],
      [{ kind: 'exposure', values: { stops: -0.5 } }],
    ),
  ],
});
