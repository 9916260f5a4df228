import { dataAddress, escape } from './escape.ts';
import type { ReportPicture } from './model.ts';

/** A middle grey, so that colours are judged beside nothing. */
const GROUND = '#6b6b6b';

/** Pictures with a label under each, on a neutral ground, as an SVG of as many pixels as it has units. */
export function sheetSvg(
  title: string,
  pictures: readonly { picture: ReportPicture; label: string }[],
  columns: number,
): string {
  const widest = Math.max(...pictures.map((p) => p.picture.width));
  const letters = Math.max(12, Math.round(widest / 28));
  const gap = Math.round(1.5 * letters);
  const across = Math.min(columns, pictures.length);
  const width = across * widest + (across + 1) * gap;
  let y = Math.round(3.2 * letters);
  const pieces = [
    `<text x="${gap}" y="${Math.round(2.1 * letters)}" font-size="${Math.round(1.25 * letters)}" font-weight="bold">${escape(title)}</text>`,
  ];
  for (let from = 0; from < pictures.length; from += across) {
    const row = pictures.slice(from, from + across);
    const tall = Math.max(...row.map((p) => p.picture.height));
    row.forEach(({ picture: { png, width: w, height: h }, label }, i) => {
      const x = gap + i * (widest + gap);
      // About two letters' height is as wide as three letters: what does not fit is cut.
      const most = Math.max(4, Math.floor(widest / (0.58 * letters)));
      const text = label.length > most ? `${label.slice(0, most - 1)}…` : label;
      pieces.push(
        `<image x="${x}" y="${y}" width="${w}" height="${h}" href="${dataAddress(png)}"/>`,
        `<text x="${x}" y="${y + tall + Math.round(1.3 * letters)}" font-size="${letters}">${escape(text)}</text>`,
      );
    });
    y += tall + Math.round(2.4 * letters);
  }
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${y + Math.round(0.4 * letters)}"><rect width="100%" height="100%" fill="${GROUND}"/><g fill="#ffffff">${pieces.join('')}</g></svg>`;
}
