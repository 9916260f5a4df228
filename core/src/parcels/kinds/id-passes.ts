import type { Field } from '../../fields/field.ts';
import { asSlim } from '../../roles/write/slim.ts';
import { REWRITES } from '../../roles/write/registry.ts';
import { rewriteLayers } from '../../version/rewrite-layers.ts';
import { VersionError } from '../../version/version-error.ts';
import { exrFile } from '../made.ts';
import type { ParcelKind } from '../kind.ts';

const FORM: Field = {
  kind: 'choice',
  key: 'form',
  label: 'Form',
  options: [
    { value: 'as-is', label: 'as they are' },
    { value: asSlim.kind, label: asSlim.label },
    ...REWRITES.map((r) => ({ value: r.kind, label: r.label })),
  ],
  neutral: 'as-is',
};
const LAYERS: Field = {
  kind: 'text',
  key: 'layers',
  label: 'ID layers',
  hint: 'all; or CryptoObject, CryptoMaterial',
  neutral: '',
};
const ONLY: Field = { kind: 'switch', key: 'only', label: 'ID passes only', neutral: true };

/** ID passes in the form that the next one needs. */
export const idPasses: ParcelKind = {
  kind: 'id-passes',
  label: 'ID passes',
  hint: 'Rewritten as cryptomattes, object buffers or puzzle mattes.',
  fields: [FORM, LAYERS, ONLY],
  varies: false,
  reads: 'nothing',
  ofPicture: false,
  per: 'frame',
  parts: () => [{ part: 'ids', ending: '.exr' }],
  bytesPerPixel: (s) => (s['only'] === false ? 40 : 4),
  async make({ frame }, { settings: s }, env) {
    const names = (s['layers'] as string).split(/[,;\s]+/).filter(Boolean);
    const sound = frame.layers.filter((l) => l.sound);
    const lost = names.filter((n) => !sound.some((l) => l.name === n));
    const chosen = sound.filter((l) => names.length === 0 || names.includes(l.name));
    if (lost.length || chosen.length === 0)
      throw new VersionError(
        `There is no ID layer ${lost.join(', ')}. There ${sound.length ? `are: ${sound.map((l) => l.name).join(', ')}` : 'is none'}.`,
      );
    const form = s['form'] === asSlim.kind ? asSlim : REWRITES.find((r) => r.kind === s['form']);
    const before = new Set(frame.header.channels.map((c) => c.name));
    const own = new Set(chosen.flatMap((l) => l.channels));
    const written = form
      ? await rewriteLayers(frame, form, (l) => chosen.includes(l))
      : { channels: await frame.channels(() => true), attributes: frame.header.attributes };
    // Of the others nothing stays: they were there before and belong to none of these layers.
    const kept =
      s['only'] === false
        ? written.channels
        : written.channels.filter((c) => own.has(c.name) || !before.has(c.name));
    const { dataWindow, displayWindow, pixelAspectRatio } = frame.header;
    return [
      exrFile(
        'ids',
        [
          {
            dataWindow,
            displayWindow,
            pixelAspectRatio,
            channels: kept,
            attributes: written.attributes,
            compression: 'zip',
          },
        ],
        env,
      ),
    ];
  },
};
