import type { Finding } from '../findings/finding.ts';
import type { OpenPicture } from '../version/open-picture.ts';

/** Looks at one thing and tells what it found. */
export type Check = (open: OpenPicture) => Finding[];

const overscan: Check = ({ image: { header } }) => {
  const { dataWindow: d, displayWindow: w } = header;
  if (d.xMin === w.xMin && d.yMin === w.yMin && d.xMax === w.xMax && d.yMax === w.yMax) return [];
  return [
    {
      severity: 'info',
      code: 'windows-differ',
      message: `The stored pixels (${d.xMin}, ${d.yMin} to ${d.xMax}, ${d.yMax}) are not exactly the frame (${w.xMin}, ${w.yMin} to ${w.xMax}, ${w.yMax}). Masks and pictures keep both.`,
    },
  ];
};

const noPicture: Check = ({ beauty }) =>
  beauty
    ? []
    : [
        {
          severity: 'info',
          code: 'no-picture',
          message:
            'The file holds no picture, only data passes. Masks can be made; add the picture to correct it.',
        },
      ];

const noIds: Check = ({ layers }) =>
  layers.length
    ? []
    : [
        {
          severity: 'warning',
          code: 'no-id-layers',
          message:
            'The file has no cryptomatte. Nothing can be isolated in it; render an ID pass for this shot.',
        },
      ];

/** Coverages of a pixel may not sum to more than 1; a little more is rounding by the writer. */
const coverageSums: Check = ({ layers }) =>
  layers.flatMap(({ name, planes }): Finding[] => {
    if (!planes) return [];
    let over = 0;
    let broken = 0;
    for (let p = 0; p < planes.width * planes.height; p++) {
      let sum = 0;
      for (const cover of planes.coverage) sum += cover[p]!;
      if (!(sum <= 1.01)) Number.isFinite(sum) ? over++ : broken++;
    }
    const findings: Finding[] = [];
    if (over)
      findings.push({
        severity: 'warning',
        code: 'coverage-over-one',
        message: `${name}: in ${over} pixels the coverages sum to more than 1. The pass was filtered or resized after rendering; its edges will not fit.`,
      });
    if (broken)
      findings.push({
        severity: 'error',
        code: 'coverage-not-a-number',
        message: `${name}: ${broken} pixels hold coverages that are not numbers. Render this pass again.`,
      });
    return findings;
  });

/** IDs that no name belongs to: damaged IDs, or a manifest of another render. */
const unknownIds: Check = ({ layers, cast }) =>
  layers.flatMap((layer): Finding[] => {
    const members = cast.find((c) => c.name === layer.name)?.members;
    if (!members || layer.manifestFrom === 'missing') return [];
    const strangers = members.filter((m) => !layer.manifest.nameOf.has(m.id));
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
  });

const unseenNames: Check = ({ layers, cast }) =>
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
  });

/** Every check of a file, in the order in which findings are told. */
export const CHECKS: readonly Check[] = [noIds, noPicture, coverageSums, unknownIds, unseenNames, overscan];
