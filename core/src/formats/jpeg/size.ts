/**
 * Size of a JPEG from its frame header (ITU T.81, B.2.2), found by walking through the markers before it; undefined if
 * there is none.
 * @param other called with the place and length of each other segment: of its marker, and with the marker itself
 */
export function jpegSize(
  bytes: Uint8Array,
  other?: (marker: number, at: number, length: number) => void,
): { width: number; height: number } | undefined {
  for (let at = 2; at + 9 < bytes.length;) {
    if (bytes[at] !== 0xff) break;
    const marker = bytes[at + 1]!;
    // Fill bytes before a marker.
    if (marker === 0xff) {
      at++;
      continue;
    }
    if (marker >= 0xc0 && marker <= 0xcf && ![0xc4, 0xc8, 0xcc].includes(marker))
      return {
        height: (bytes[at + 5]! << 8) | bytes[at + 6]!,
        width: (bytes[at + 7]! << 8) | bytes[at + 8]!,
      };
    const length = (bytes[at + 2]! << 8) | bytes[at + 3]!;
    other?.(marker, at, length);
    at += 2 + length;
  }
  return undefined;
}
