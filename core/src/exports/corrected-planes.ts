import { applyChanges } from '../apply/apply-changes.ts';
import type { ListedChange } from '../changes/listed.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import type { OpenPicture } from '../version/open-picture.ts';
import { needPicture, type ExportEnv } from './export-kind.ts';
import { passesFor } from './passes-for.ts';

/** The picture with changes applied, with all passes and picture files that they want. Rejects with VersionError where there is none. */
export async function correctedPlanes(
  open: OpenPicture,
  changes: readonly ListedChange[],
  env: ExportEnv,
): Promise<RgbPlanes> {
  needPicture(open);
  const { crew, signal, onProgress } = env;
  const passes = await passesFor(open, changes, env);
  return applyChanges(open, changes, { passes, crew, signal, onProgress });
}
