import type { ImageReader } from '../reader.ts';
import { MAGIC } from './header.ts';
import { exrBlocks, readExrBy, readExrOutline } from './read.ts';

export const exrReader: ImageReader = {
  format: 'exr',
  label: 'OpenEXR',
  endings: ['exr'],
  mediaType: 'image/x-exr',
  sniff: (head) => head.length >= 4 && new DataView(head.buffer, head.byteOffset).getInt32(0, true) === MAGIC,
  outline: readExrOutline,
  read: (bytes, crew, options) => readExrBy(crew, bytes, options),
  blocks: exrBlocks,
};
