import { layerOfChannel, layerKindOf } from '../../version/layer-kinds.ts';
import type { Area } from '../../planes/area.ts';
import type { Finding } from '../../findings/finding.ts';
import type { ChannelStats } from '../../version/channel-stats.ts';
import type { Check, Inspected } from '../check.ts';

/** Channels of passes that are not IDs, pass by pass, with what their samples are. */
function passes({ stats, layers }: Inspected): Map<string, ChannelStats[]> {
  const ids = new Set(layers.flatMap((l) => [...l.channels, ...(l.sources ?? [])]));
  // A slot that is not used is nothing to tell.
  const ofIds = new Set([...ids].map(layerOfChannel));
  const found = new Map<string, ChannelStats[]>();
  for (const [name, own] of stats ?? []) {
    const layer = layerOfChannel(name);
    if (ids.has(name) || ofIds.has(layer)) continue;
    found.set(layer, [...(found.get(layer) ?? []), own]);
  }
  return found;
}
const called = (layer: string) => (layer === 'RGBA' ? 'The picture' : layer);
const sum = (stats: readonly ChannelStats[], of: (s: ChannelStats) => number) =>
  stats.reduce((n, s) => n + of(s), 0);
/** How many, for people. */
const count = (n: number, what: string) => `${n.toLocaleString('en')} ${what}${n === 1 ? '' : 's'}`;

/** Samples that are infinite or no number spread over everything that is blurred or averaged with them. */
export const finitePixels: Check = {
  code: 'pixels-not-finite',
  title: 'Values that are numbers',
  scope: 'frame',
  run: (open) =>
    [...passes(open)].flatMap(([layer, stats]): Finding[] => {
      const bad = sum(stats, (s) => s.notFinite);
      if (bad === 0) return [];
      const places: Area[] = stats.flatMap((s) => s.places).slice(0, 200);
      return [
        {
          severity: 'warning',
          code: 'pixels-not-finite',
          message: `${called(layer)} holds ${count(bad, 'value')} that ${bad === 1 ? 'is' : 'are'} infinite or no number. Corrections leave them out; a blur would spread them.`,
          places,
          remedy: { label: 'Fill them from around', mend: { what: 'finite', layer } },
        },
      ];
    }),
};

/** Light cannot be negative: filters with negative lobes, and subtraction, make it so. */
export const negativePixels: Check = {
  code: 'pixels-negative',
  title: 'Light that is not negative',
  scope: 'frame',
  run: (open) =>
    [...passes(open)].flatMap(([layer, stats]): Finding[] => {
      const negative = sum(stats, (s) => s.negative);
      if (negative === 0 || layerKindOf(layer, stats.length).shownAs !== 'light') return [];
      const least = Math.min(...stats.map((s) => s.min));
      return [
        {
          severity: 'info',
          code: 'pixels-negative',
          message: `${called(layer)} holds ${count(negative, 'value')} below 0, down to ${Number(least.toPrecision(3))}: from a sharp pixel filter, or colours outside of its primaries. Levels, curves, gamma and contrast shift them by as much as they shift black; corrections that multiply scale them like any other value.`,
        },
      ];
    }),
};

/** A pass that is the same everywhere was switched off, or rendered of nothing. */
export const constantPasses: Check = {
  code: 'pass-constant',
  title: 'Passes with something in them',
  scope: 'frame',
  run: (open) =>
    [...passes(open)].flatMap(([layer, stats]): Finding[] => {
      // Alpha of a full frame is 1 everywhere.
      const values = stats.filter((s) => s.max >= s.min);
      if (values.length === 0 || values.some((s) => s.max > s.min)) return [];
      return [
        {
          severity: 'warning',
          code: 'pass-constant',
          message: `${called(layer)} is ${Number(values[0]!.max.toPrecision(3))} everywhere. It was not rendered, or nothing in the scene is in it.`,
        },
      ];
    }),
};
