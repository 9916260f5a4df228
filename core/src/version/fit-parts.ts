import type { Finding } from '../findings/finding.ts';
import { boxHeight, boxWidth, type Box2i } from '../planes/box.ts';
import { pictureAmong, shortNames, type FilePart } from './file-parts.ts';
import { stemOf, type Interpretation } from './interpretation.ts';
import { sameBox } from './place.ts';

const sizeText = (b: Box2i) => `${boxWidth(b)} x ${boxHeight(b)}`;
const moved = (b: Box2i, x: number, y: number): Box2i => ({
  xMin: b.xMin + x,
  yMin: b.yMin + y,
  xMax: b.xMax + x,
  yMax: b.yMax + y,
});

/** What is cut off, or stays empty, on two opposite sides. */
function sides(more: number, where: string): string[] {
  if (more === 0) return [];
  const pixels = Math.ceil(Math.abs(more) / 2);
  const what = pixels === 1 ? '1 pixel' : `${pixels} pixels`;
  if (more > 0) return [`${what} ${pixels === 1 ? 'is' : 'are'} cut off ${where}`];
  return [`${what} ${pixels === 1 ? 'stays' : 'stay'} empty ${where}`];
}

/**
 * Fits the parts of a frame together whose frames (display windows) are not the same as the picture's. Where the artist
 * has said where a file lies, it is moved there; otherwise it is left out and told, with the place that it would
 * probably have: its middle on the picture's. `picture` is the part whose frame it is. Nothing is ever resampled: pixels of IDs would become other IDs.
 */
export function fitParts<P extends FilePart>(
  parts: readonly P[],
  { places = {}, roles }: Pick<Interpretation, 'places' | 'roles'>,
): { parts: P[]; picture: P | undefined; findings: Finding[] } {
  const short = shortNames(parts.map((p) => p.file));
  const labelled = parts.map(({ header }, i) => ({ header, label: header.name || short[i]! }));
  const picture = parts[Math.max(0, pictureAmong(labelled, roles).at)];
  const frame = picture?.header.displayWindow;
  const findings = new Map<string, Finding>();
  const fitting = parts.flatMap((part): P[] => {
    const own = part.header.displayWindow;
    if (!frame || sameBox(own, frame)) return [part];
    const stem = stemOf(part.file);
    const place = places[stem];
    if (place) {
      const [x, y] = [frame.xMin + place.x - own.xMin, frame.yMin + place.y - own.yMin];
      const { dataWindow, missing } = part.header;
      const header = {
        ...part.header,
        displayWindow: frame,
        dataWindow: moved(dataWindow, x, y),
        ...(missing ? { missing: missing.map((b) => moved(b, x, y)) } : {}),
      };
      return [{ ...part, header }];
    }
    findings.set(part.file, differs(part.file, stem, own, frame));
    return [];
  });
  return { parts: fitting, picture, findings: [...findings.values()] };
}

function differs(file: string, stem: string, own: Box2i, frame: Box2i): Finding {
  const [acrossBy, downBy] = [boxWidth(own) - boxWidth(frame), boxHeight(own) - boxHeight(frame)];
  const start = `${file} is ${sizeText(own)} and the picture ${sizeText(frame)}, so it was left out.`;
  const finding = (message: string): Finding => ({
    severity: 'error',
    code: 'size-differs',
    message: `${start} ${message}`,
  });
  const scale = boxWidth(own) / boxWidth(frame);
  const alike = Math.abs(scale / (boxHeight(own) / boxHeight(frame)) - 1) < 0.01;
  // The same picture in another size, if it is not a border of some pixels.
  if (alike && Math.abs(scale - 1) > 0.2)
    return finding(
      'It seems to be the same view at another size. Render it at the size of the picture: IDs cannot be resampled.',
    );
  const [x, y] = [-Math.round(acrossBy / 2), -Math.round(downBy / 2)];
  const cut = [...sides(acrossBy, 'left and right'), ...sides(downBy, 'above and below')];
  const how = cut.length ? `its middle on the picture's: ${cut.join(', ')}` : 'upper left corner on corner';
  return {
    ...finding(`It can be laid there with ${how}. Nothing is resampled.`),
    remedy: { label: 'Lay it there', place: { file: stem, x, y } },
  };
}
