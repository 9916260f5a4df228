import { plainText } from '../../findings/plain-text.ts';

/** Text that may stand in HTML and XML: what these cannot hold is taken out. */
export const escape = (text: string): string =>
  plainText(text).replace(
    /[&<>"']/g,
    (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' })[c]!,
  );

/** A PNG as an address that holds it. */
export function dataAddress(png: Uint8Array): string {
  let text = '';
  for (let i = 0; i < png.length; i += 0x8000) text += String.fromCharCode(...png.subarray(i, i + 0x8000));
  return `data:image/png;base64,${btoa(text)}`;
}
