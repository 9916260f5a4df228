import { XMLBuilder } from 'fast-xml-parser';
import { zipSync, type Zippable } from 'fflate';
import { plainText } from '../../findings/plain-text.ts';

/** A picture in a stack, PNG, with its place. */
export interface OraLayer {
  name: string;
  png: Uint8Array;
  x: number;
  y: number;
  /** How it lies on those below: over them by default; `src-atop` leaves their alpha as it is. */
  composite?: OraComposite;
}
/** Of the operators that OpenRaster takes from SVG. */
export type OraComposite = 'src-over' | 'src-atop';
/** Layers under one name. */
export interface OraGroup {
  name: string;
  composite?: OraComposite;
  layers: (OraLayer | OraGroup)[];
}

/**
 * Writes an OpenRaster file (OpenRaster 0.0.5): a stack of PNG layers, the last one on top, mixed in display values by
 * their alpha.
 * @param merged the whole picture; @param thumbnail the same, at most 256 pixels across
 */
export function writeOra(
  { width, height }: { width: number; height: number },
  layers: readonly (OraLayer | OraGroup)[],
  { merged, thumbnail }: { merged: Uint8Array; thumbnail: Uint8Array },
): Uint8Array {
  // PNG is packed already.
  const stored = { level: 0 } as const;
  const files: Zippable = { mimetype: [new TextEncoder().encode('image/openraster'), stored] };
  let count = 0;
  const seen = ({ composite = 'src-over' }: Pick<OraLayer, 'composite'>) => ({
    '@_opacity': '1.0',
    '@_visibility': 'visible',
    '@_composite-op': `svg:${composite}`,
  });
  /** The topmost one stands first. */
  const stack = (all: readonly (OraLayer | OraGroup)[]): object[] =>
    [...all].reverse().map((one) => {
      if ('layers' in one)
        return {
          stack: stack(one.layers),
          ':@': { '@_name': plainText(one.name), ...seen(one) },
        };
      const src = `data/layer${count++}.png`;
      files[src] = [one.png, stored];
      return {
        layer: [],
        ':@': {
          '@_name': plainText(one.name),
          '@_src': src,
          '@_x': String(one.x),
          '@_y': String(one.y),
          ...seen(one),
        },
      };
    });
  const document = [
    {
      image: [{ stack: stack(layers) }],
      ':@': { '@_version': '0.0.5', '@_w': String(width), '@_h': String(height) },
    },
  ];
  const builder = new XMLBuilder({
    preserveOrder: true,
    ignoreAttributes: false,
    suppressEmptyNode: true,
    format: true,
  });
  const xml = `<?xml version="1.0" encoding="UTF-8"?>\n${builder.build(document)}`;
  files['stack.xml'] = new TextEncoder().encode(xml);
  files['mergedimage.png'] = [merged, stored];
  files['Thumbnails/thumbnail.png'] = [thumbnail, stored];
  return zipSync(files);
}
