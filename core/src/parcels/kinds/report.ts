import type { Field } from '../../fields/field.ts';
import { textFile } from '../made.ts';
import type { MadeFile, ParcelKind } from '../kind.ts';
import { reportHtml } from '../report/html.ts';
import { reportOf } from '../report/model.ts';
import { reportPdf } from '../report/pdf.ts';

const HTML: Field = { kind: 'switch', key: 'html', label: 'As one HTML file', neutral: true };
const PDF: Field = { kind: 'switch', key: 'pdf', label: 'As PDF', neutral: true };

const TELLS: Field = {
  kind: 'choice',
  key: 'tells',
  label: 'Shows',
  options: [
    { value: 'first', label: 'the first frame' },
    { value: 'middle', label: 'the middle frame' },
    { value: 'last', label: 'the last frame' },
    { value: 'all', label: 'all frames, 24 at most' },
  ],
  neutral: 'first',
};
/** More frames would be a report that cannot be sent. */
const MOST_FRAMES = 24;

/** Frames that a report tells of; of more than it has room for, as many that lie evenly among them, ends included. */
function toldOf(which: unknown, frames: readonly number[]): number[] {
  if (which === 'last') return frames.slice(-1);
  if (which === 'middle') return frames.slice((frames.length - 1) >> 1).slice(0, 1);
  if (which !== 'all') return frames.slice(0, 1);
  const count = Math.min(frames.length, MOST_FRAMES);
  return Array.from(
    { length: count },
    (_, i) => frames[Math.round((i * (frames.length - 1)) / Math.max(1, count - 1))]!,
  );
}

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
  revision: 2,
  label: 'Report',
  hint: 'For the client and the archive: their words, before and after of each, members, values, colours.',
  fields: [HTML, PDF, TELLS],
  varies: true,
  reads: 'list',
  ofPicture: true,
  per: 'shot',
  tells: ({ settings, frames }) => toldOf(settings['tells'], frames),
  parts: ({ settings: s }) => [
    ...(s['html'] === false ? [] : [{ part: 'report', ending: '.html' }]),
    ...(s['pdf'] === false ? [] : [{ part: 'report', ending: '.pdf' }]),
  ],
  bytesPerPixel: () => 2,
  async make(frame, request, env) {
    const { html, pdf, tells } = request.settings;
    const frames = toldOf(tells, request.frames);
    if (tells === 'all' && frames.length < request.frames.length)
      env.onNote?.(
        `The report tells of ${frames.length} of ${request.frames.length} frames, evenly among them.`,
      );
    const told = await reportOf(frame, request, frames, env);
    return [
      ...(html === false ? [] : [textFile('report', '.html', 'text/html', reportHtml(told))]),
      ...(pdf === false ? [] : [pdfFile('report', await reportPdf(told, await env.paper()))]),
    ];
  },
};
