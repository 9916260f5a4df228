import { onScreen } from '../../display/view.ts';
import { listedChanges } from '../../changes/listed.ts';
import { correctedPlanes } from '../corrected-planes.ts';
import { asFloats } from '../../formats/exr/samples.ts';
import { pictureToPng } from '../../formats/png/write.ts';
import { PNG, type ExportKind } from '../export-kind.ts';

/** The frame of the corrected picture through the sRGB curve, with its alpha if it has one. */
const correctedPng = (depth: 8 | 16, note: string): ExportKind => ({
  kind: `corrected-png${depth}`,
  label: `Corrected picture, PNG ${depth} bit`,
  note,
  of: 'picture',
  ...PNG,
  async write(open, request, env) {
    const planes = await correctedPlanes(open, listedChanges(request.list, request), env);
    const alpha = open.image.channels.find((c) => c.name === open.beauty!.a);
    return pictureToPng(onScreen(planes), open.image.header, depth, alpha && asFloats(alpha));
  },
});

export const correctedPng8 = correctedPng(8, 'sRGB, for looking at.');
export const correctedPng16 = correctedPng(16, 'sRGB with fine steps.');
