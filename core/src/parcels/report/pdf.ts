import type { Paper } from '../kind.ts';
import type { Report, ReportFrame } from './model.ts';
import { Pages } from './pages.ts';

/** Before and after side by side. */
const pair = (pages: Pages, { before, after }: Pick<ReportFrame, 'before' | 'after'>, most?: number) =>
  pages.pictures(
    [
      { picture: before, label: 'as rendered' },
      { picture: after, label: 'corrected' },
    ],
    2,
    most,
  );

async function drawFrame(pages: Pages, frame: ReportFrame): Promise<void> {
  if (frame.name) pages.text(frame.name, 14, true, 14);
  await pair(pages, frame);
  for (const c of frame.changes) {
    pages.text(c.words, 12, true, 10);
    pages.text(`${c.state}. ${c.who}`);
    await pair(pages, c, 180);
    for (const step of c.steps) pages.text(`- ${step}`);
    if (c.colours)
      pages.text(
        `Mean colour ${c.colours.before} to ${c.colours.after}, Delta E 2000 ${c.colours.deltaE.toFixed(1)}`,
      );
    if (c.lost.length) pages.text(`Not in this version: ${c.lost.join(', ')}`);
    for (const comment of c.comments) pages.text(comment);
  }
  for (const [i, f] of frame.findings.entries()) {
    if (i === 0) pages.text('Findings', 14, true, 14);
    pages.text(`- ${f}`);
  }
  for (const [i, { name, bytes, sha256 }] of frame.files.entries()) {
    if (i === 0) pages.text('Files', 14, true, 14);
    pages.text(`${name}, ${bytes} bytes, SHA-256`, 9, false, 3);
    pages.text(sha256, 8);
  }
}

/** A report as a PDF of A4 pages. */
export async function reportPdf(report: Report, paper: Paper): Promise<Uint8Array> {
  const pages = await Pages.begin(report.title, paper);
  pages.text(report.title, 20, true);
  pages.text(report.facts.join(', '), 10, false, 4);
  for (const frame of report.frames) await drawFrame(pages, frame);
  for (const [i, v] of report.variants.entries()) {
    if (i === 0) pages.text('Variants', 14, true, 14);
    pages.text(v.name, 11, true, 4);
    for (const set of v.sets) pages.text(`- ${set}`);
  }
  return pages.save();
}
