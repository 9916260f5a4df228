import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import type { Paper } from '../src/parcels/kind.ts';

const FAMILY = 'DejaVu Sans';
let read: Promise<Paper> | undefined;

async function readPaper(): Promise<Paper> {
  const { resolve } = createRequire(import.meta.url);
  const bytes = (name: string) => readFile(resolve(name));
  const [plain, bold, wasm] = await Promise.all([
    bytes('dejavu-fonts-ttf/ttf/DejaVuSans.ttf'),
    bytes('dejavu-fonts-ttf/ttf/DejaVuSans-Bold.ttf'),
    bytes('@resvg/resvg-wasm/index_bg.wasm'),
  ]);
  const { initWasm, Resvg } = await import('@resvg/resvg-wasm');
  await initWasm(wasm);
  return {
    plain,
    bold,
    draw(svg) {
      const drawn = new Resvg(svg, { font: { fontBuffers: [plain, bold], defaultFontFamily: FAMILY } });
      const picture = drawn.render();
      const png = picture.asPng();
      picture.free();
      drawn.free();
      return png;
    },
  };
}

/** Letters and drawings for papers, read once: DejaVu Sans, which has Latin, Greek, Cyrillic and more. */
export const nodePaper = (): Promise<Paper> => (read ??= readPaper());
