import type { Output } from './plan.ts';

/** What may stand in a file name's pattern, with what it becomes. */
export const PLACEHOLDERS: Record<string, string> = {
  shot: 'name of the shot',
  version: 'number of the version, three digits',
  frame: 'number of the frame, four digits',
  layers: '"all", or "picture" and "ids" if ID passes go into a file of their own',
  camera: 'name of the camera',
};

export interface NamingContext {
  shot: string;
  version: number;
  frame: number;
  camera: string;
}

/** Letters that no file system refuses; anything else becomes a low line. */
const safe = (text: string) =>
  text
    .trim()
    .replace(/[^\p{L}\p{N}._-]+/gu, '_')
    .replace(/^[._]+/, '') || 'unnamed';

/** The name of one output file, `.exr` included. */
export function fileName(output: Output, layers: 'all' | 'picture' | 'ids', c: NamingContext): string {
  const values: Record<string, string> = {
    shot: safe(c.shot),
    version: String(c.version).padStart(3, '0'),
    frame: String(c.frame).padStart(4, '0'),
    layers,
    camera: safe(c.camera.slice(c.camera.lastIndexOf('/') + 1) || 'camera'),
  };
  return `${output.pattern.replace(/\{(\w+)\}/g, (whole, key: string) => values[key] ?? whole)}.exr`;
}

/** Says why a pattern cannot be used, or nothing. */
export function namingFault(output: Output, sequence: boolean): string | undefined {
  const { pattern, idsApart } = output;
  if (pattern.trim() === '') return 'The output has no file name. Write one, for example {shot}_v{version}.';
  if (/[/\\:*?"<>|\u0000-\u001f]/.test(pattern)) return 'The file name must not contain / \\ : * ? " < > |.';
  if (/^\./.test(pattern)) return 'The file name must not begin with a dot.';
  if (pattern.length > 150) return 'The file name is longer than 150 characters.';
  const used = [...pattern.matchAll(/\{([^}]*)\}/g)].map((m) => m[1]!);
  const unknown = used.find((key) => !(key in PLACEHOLDERS));
  if (unknown !== undefined)
    return `"{${unknown}}" is no placeholder. There are ${Object.keys(PLACEHOLDERS)
      .map((k) => `{${k}}`)
      .join(', ')}.`;
  if (sequence && !used.includes('frame'))
    return 'All frames would be written to the same file. Add {frame} to the file name.';
  if (idsApart && !used.includes('layers'))
    return 'Picture and ID passes would be written to the same file. Add {layers} to the file name.';
  return undefined;
}
