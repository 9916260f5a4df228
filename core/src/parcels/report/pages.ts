import type { Color, PDFDocument, PDFFont, PDFPage } from 'pdf-lib';
import type { Paper } from '../kind.ts';
import type { ReportPicture } from './model.ts';

/** A4 upright, in points. */
export const [PAGE_WIDTH, PAGE_HEIGHT] = [595.28, 841.89];
export const MARGIN = 42;
const INK = 0.13;

/** Pages that are filled from the top; what does not fit begins a new one. */
export class Pages {
  private page: PDFPage | undefined;
  private y = 0;
  /** Characters that the font has. */
  private readonly has: ReadonlySet<number>;

  private constructor(
    private readonly document: PDFDocument,
    private readonly plain: PDFFont,
    private readonly bold: PDFFont,
    private readonly ink: Color,
    private readonly size: readonly [number, number],
  ) {
    this.has = new Set(plain.getCharacterSet());
  }

  /** @param size width and height of a page in points */
  static async begin(
    title: string,
    letters: Pick<Paper, 'plain' | 'bold'>,
    size: readonly [number, number] = [PAGE_WIDTH, PAGE_HEIGHT],
  ): Promise<Pages> {
    // Loaded where it is wanted.
    const { PDFDocument, rgb } = await import('pdf-lib');
    const { default: fontkit } = await import('@pdf-lib/fontkit');
    const document = await PDFDocument.create();
    document.registerFontkit(fontkit);
    document.setTitle(title);
    document.setProducer('Zesty Crow');
    // When it was made is always the same, so that equal content is an equal file.
    document.setCreationDate(new Date(0));
    document.setModificationDate(new Date(0));
    const [plain, bold] = await Promise.all([
      document.embedFont(letters.plain, { subset: true }),
      document.embedFont(letters.bold, { subset: true }),
    ]);
    return new Pages(document, plain, bold, rgb(INK, INK, INK), size);
  }

  private room(height: number): PDFPage {
    if (!this.page || this.y - height < MARGIN) {
      this.page = this.document.addPage([...this.size]);
      this.y = this.size[1] - MARGIN;
    }
    return this.page;
  }
  get width(): number {
    return this.size[0] - 2 * MARGIN;
  }

  /** What the font has not is written as a question mark. */
  private known(text: string): string {
    return Array.from(text, (c) => (this.has.has(c.codePointAt(0)!) ? c : '?')).join('');
  }
  private lines(text: string, font: PDFFont, size: number): string[] {
    const lines: string[] = [];
    let line = '';
    for (const word of this.known(text).split(/\s+/)) {
      const longer = line ? `${line} ${word}` : word;
      if (line && font.widthOfTextAtSize(longer, size) > this.width) {
        lines.push(line);
        line = word;
      } else line = longer;
    }
    return line ? [...lines, line] : lines;
  }
  text(text: string, size = 10, strong = false, before = 0): void {
    const font = strong ? this.bold : this.plain;
    this.y -= before;
    for (const line of this.lines(text, font, size)) {
      const page = this.room(1.4 * size);
      this.y -= 1.4 * size;
      page.drawText(line, {
        x: MARGIN,
        y: this.y,
        size,
        font,
        color: this.ink,
      });
    }
  }
  /** Pictures side by side with a label under each, as wide as there is room. */
  async pictures(
    pictures: readonly { picture: ReportPicture; label: string }[],
    columns = pictures.length,
    most = Infinity,
  ): Promise<void> {
    const gap = 10;
    const wide = Math.min(most, (this.width - gap * (columns - 1)) / columns);
    for (let from = 0; from < pictures.length; from += columns) {
      const row = pictures.slice(from, from + columns);
      const heights = row.map(({ picture: p }) => (wide * p.height) / p.width);
      const tall = Math.max(...heights) + 16;
      const page = this.room(tall + 8);
      for (const [i, { picture, label }] of row.entries()) {
        const x = MARGIN + i * (wide + gap);
        page.drawImage(await this.document.embedPng(picture.png), {
          x,
          y: this.y - heights[i]! - 4,
          width: wide,
          height: heights[i]!,
        });
        page.drawText(this.cut(label, wide), { x, y: this.y - heights[i]! - 14, size: 8, font: this.plain });
      }
      this.y -= tall + 8;
    }
  }
  private cut(text: string, width: number): string {
    let known = this.known(text);
    while (known.length > 1 && this.plain.widthOfTextAtSize(known, 8) > width) known = known.slice(0, -1);
    return known;
  }
  save(): Promise<Uint8Array> {
    return this.document.save();
  }
}
