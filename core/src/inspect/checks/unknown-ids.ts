import { isNothing } from '../../cast/cast.ts';
import type { Finding } from '../../findings/finding.ts';
import type { Check } from '../check.ts';

/** IDs that no name belongs to: damaged IDs, or a manifest of another render. */
export const unknownIds: Check = {
  code: 'ids-unknown',
  title: 'IDs against the list of names',
  scope: 'frame',
  run: ({ layers, cast }) =>
    layers.flatMap((layer): Finding[] => {
      const members = cast.find((c) => c.name === layer.name)?.members;
      if (!members || layer.manifestFrom === 'missing') return [];
      const strangers = members.filter((m) => !isNothing(m) && !layer.manifest.nameOf.has(m.id));
      if (strangers.length === 0) return [];
      const most = strangers.length > members.length / 2;
      return [
        {
          severity: most ? 'error' : 'warning',
          code: 'ids-unknown',
          message: most
            ? `${layer.name}: ${strangers.length} of ${members.length} IDs are in no list of names. The IDs were damaged (resized, colour-managed or compressed with loss) or the names belong to another render.`
            : `${layer.name}: ${strangers.length} ID(s) have no name and are shown as numbers.`,
        },
      ];
    }),
};
