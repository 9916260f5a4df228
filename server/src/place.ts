import { extname } from 'node:path';
import { fileURLToPath } from 'node:url';

/** The repository's folder. This file lies two below it as TypeScript (server/src/) and bundled (server/generated/). */
export const HOUSE = new URL('../../', import.meta.url);

/** The path of another program of the server, in the same form as the one that asks. */
export const programPath = (name: 'worker' | 'lane'): string =>
  fileURLToPath(new URL(`./${name}${extname(import.meta.url)}`, import.meta.url));
