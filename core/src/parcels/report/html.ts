import { dataAddress, escape } from './escape.ts';
import type { Report, ReportFrame, ReportPicture } from './model.ts';

const image = ({ png, width, height }: ReportPicture, alt: string) =>
  `<img src="${dataAddress(png)}" width="${width}" height="${height}" alt="${escape(alt)}">`;
const list = (items: readonly string[]) =>
  items.length ? `<ul>${items.map((i) => `<li>${escape(i)}</li>`).join('')}</ul>` : '';

const STYLE = `body{max-width:1280px;margin:32px auto;padding:0 24px;font:16px/1.45 sans-serif;color:#23221f;background:#f5f2ea}
img{max-width:100%;height:auto;background:#6b6b6b}h1{margin-bottom:0}.pair{display:flex;gap:12px;flex-wrap:wrap}
figure{margin:0}figcaption{color:#65625a;font-size:14px}article{border-top:1px solid #d5d0c2;padding:12px 0;break-inside:avoid}
.chip{display:inline-block;width:28px;height:16px;vertical-align:-2px;margin-right:6px}.lost{color:#a3271c}td{padding:2px 16px 2px 0}code{overflow-wrap:anywhere;font-size:13px}`;

const pair = (before: ReportPicture, after: ReportPicture) =>
  `<div class="pair"><figure>${image(before, 'Before')}<figcaption>as rendered</figcaption></figure>` +
  `<figure>${image(after, 'After')}<figcaption>corrected</figcaption></figure></div>`;

function frameHtml({ name, before, after, changes, findings, files }: ReportFrame): string {
  const told = changes.map(
    (c) =>
      `<article><h4>${escape(c.words)}</h4><p>${escape(c.state)}. ${escape(c.who)}</p>${pair(c.before, c.after)}${list(c.steps)}${
        c.colours
          ? `<p>Mean colour <i class="chip" style="background:${c.colours.before}"></i>${c.colours.before} to <i class="chip" style="background:${c.colours.after}"></i>${c.colours.after}, ΔE2000 ${c.colours.deltaE.toFixed(1)}</p>`
          : ''
      }${c.lost.length ? `<p class="lost">Not in this version: ${escape(c.lost.join(', '))}</p>` : ''}${list(c.comments)}</article>`,
  );
  return `${name ? `<h2>${escape(name)}</h2>` : ''}${pair(before, after)}
<h3>Changes</h3>${told.join('\n') || '<p>There are none.</p>'}
${findings.length ? `<h3>Findings</h3>${list(findings)}` : ''}
<h3>Files</h3><table>${files.map((f) => `<tr><td>${escape(f.name)}</td><td>${f.bytes}</td><td><code>${f.sha256}</code></td></tr>`).join('')}</table>`;
}

/** A report as one HTML file: pictures are in it, and nothing is fetched. */
export function reportHtml(report: Report): string {
  const variants = report.variants.map((v) => `<article><h3>${escape(v.name)}</h3>${list(v.sets)}</article>`);
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>${escape(report.title)}</title><style>${STYLE}</style></head>
<body><h1>${escape(report.title)}</h1><p>${escape(report.facts.join(' · '))}</p>
${report.frames.map(frameHtml).join('\n')}
${variants.length ? `<h2>Variants</h2>${variants.join('\n')}` : ''}
</body></html>
`;
}
