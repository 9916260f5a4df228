import { soundText } from '../../findings/sound-text.ts';
import type { Primaries } from '../../colour/primaries.ts';
import { ByteWriter } from './bytes.ts';
import type { ExrAttribute } from './types.ts';

const utf8 = new TextDecoder();

/** Text of a `string` attribute by name, or undefined. String attributes carry no terminator. */
export function stringAttribute(attributes: readonly ExrAttribute[], name: string): string | undefined {
  const found = attributes.find((a) => a.name === name && a.type === 'string');
  return found && soundText(utf8.decode(found.value));
}

/** Makes a `string` attribute. */
export function makeString(name: string, value: string): ExrAttribute {
  return { name, type: 'string', value: new TextEncoder().encode(value) };
}

/** Makes a `float` attribute. */
export function makeFloat(name: string, value: number): ExrAttribute {
  return { name, type: 'float', value: new ByteWriter().f32(value).done() };
}

/** Value of a `float` attribute by name, or undefined. */
export function floatAttribute(attributes: readonly ExrAttribute[], name: string): number | undefined {
  const found = attributes.find((a) => a.name === name && a.type === 'float');
  if (found?.value.length !== 4) return undefined;
  return new DataView(found.value.buffer, found.value.byteOffset, 4).getFloat32(0, true);
}

/** Chromaticities of red, green, blue and white (x, y), if the file states them. */
export function chromaticities(attributes: readonly ExrAttribute[]): Primaries | undefined {
  const found = attributes.find((a) => a.name === 'chromaticities' && a.type === 'chromaticities');
  if (found?.value.length !== 32) return undefined;
  const view = new DataView(found.value.buffer, found.value.byteOffset, 32);
  const pair = (i: number) => [view.getFloat32(8 * i, true), view.getFloat32(8 * i + 4, true)] as const;
  return { red: pair(0), green: pair(1), blue: pair(2), white: pair(3) };
}
