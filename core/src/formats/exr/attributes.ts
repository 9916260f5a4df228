import { soundText } from '../../findings/sound-text.ts';
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
