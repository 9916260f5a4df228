import { soundText } from '../findings/sound-text.ts';

/** Four letters at a place. */
const tag = (bytes: Uint8Array, at: number) => String.fromCharCode(...bytes.subarray(at, at + 4));

/** The text of a description: plain, or in several languages as UTF-16, of which the first is taken. */
function description(bytes: Uint8Array, at: number): string | undefined {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (tag(bytes, at) === 'desc') {
    const length = view.getUint32(at + 8);
    return new TextDecoder('latin1').decode(bytes.slice(at + 12, at + 12 + length)).replace(/\0.*$/s, '');
  }
  if (tag(bytes, at) !== 'mluc') return undefined;
  const [length, from] = [view.getUint32(at + 20), view.getUint32(at + 24)];
  return new TextDecoder('utf-16be').decode(bytes.slice(at + from, at + from + length)).replace(/\0.*$/s, '');
}

/**
 * What an ICC profile calls itself (ICC.1:2022, 7.2 and 9.2.41), for people; without a name it is "without a name". It is
 * only told, never applied: numbers that are IDs must stay what they are.
 */
export function profileName(profile: Uint8Array): string {
  const unnamed = 'without a name';
  try {
    const view = new DataView(profile.buffer, profile.byteOffset, profile.byteLength);
    const count = Math.min(100, view.getUint32(128));
    for (let i = 0; i < count; i++)
      if (tag(profile, 132 + 12 * i) === 'desc')
        return (
          soundText(description(profile, view.getUint32(136 + 12 * i)) ?? '')
            .trim()
            .slice(0, 80) || unnamed
        );
  } catch {
    // It ends too soon; it is there all the same.
  }
  return unnamed;
}
