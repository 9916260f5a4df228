import type { Field } from '../../fields/field.ts';
import { textFile } from '../made.ts';
import type { MadeFile, ParcelKind } from '../kind.ts';
import { reportHtml } from '../report/html.ts';
import { reportOf } from '../report/model.ts';
import { reportPdf } from '../report/pdf.ts';

const HTML: Field = { kind: 'switch', key: 'html', label: 'As one HTML file', neutral: true };
const PDF: Field = { kind: 'switch', key: 'pdf', label: 'As PDF', neutral: true };

/** A PDF that was made is whole if it begins and ends as one. */
export function pdfFile(part: string, bytes: Uint8Array): MadeFile {
  const text = (from: number, to?: number) => new TextDecoder('latin1').decode(bytes.subarray(from, to));
  return {
    part,
    ending: '.pdf',
    mediaType: 'application/pdf',
    bytes,
    verify: () => (text(0, 5) === '%PDF-' && text(-16).includes('%%EOF') ? '' : 'The PDF is damaged.'),
  };
}

/** What was asked for, what was done about it, and what it looks like. */
export const report: ParcelKind = {
  kind: 'report',
  label: 'Report',
  hint: 'For the client and the archive: their words, before and after of each, members, values, colours.',
  fields: [HTML, PDF],
  varies: true,
  reads: 'list',
  ofPicture: true,
  per: 'shot',
  parts: ({ settings: s }) => [
    ...(s['html'] === false ? [] : [{ part: 'report', ending: '.html' }]),
    ...(s['pdf'] === false ? [] : [{ part: 'report', ending: '.pdf' }]),
  ],
  bytesPerPixel: () => 2,
  async make(frame, request, env) {
    const told = await reportOf(frame.frame, await frame.open(), request, env);
    const { html, pdf } = request.settings;
    return [
      ...(html === false ? [] : [textFile('report', '.html', 'text/html', reportHtml(told))]),
      ...(pdf === false ? [] : [pdfFile('report', await reportPdf(told, await env.paper()))]),
    ];
  },
};
