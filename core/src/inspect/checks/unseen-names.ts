import type { Finding } from '../../findings/finding.ts';
import type { Check } from '../check.ts';

export const unseenNames: Check = {
  code: 'names-unseen',
  title: 'Names against the IDs',
  scope: 'frame',
  run: ({ layers, cast }) =>
    layers.flatMap((layer): Finding[] => {
      const members = cast.find((c) => c.name === layer.name)?.members;
      if (!members) return [];
      const seen = new Set(members.map((m) => m.id));
      const unseen = [...layer.manifest.nameOf].filter(([id]) => !seen.has(id)).map(([, name]) => name);
      return unseen.length
        ? [
            {
              severity: 'info',
              code: 'names-unseen',
              message: `${layer.name}: ${unseen.length} name(s) of the list are not seen in this picture, for example ${unseen[0]}.`,
            },
          ]
        : [];
    }),
};
