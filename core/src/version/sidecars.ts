import type { ExrHeader } from '../formats/exr/types.ts';
import { findCryptomattes } from '../idlayers/cryptomatte.ts';
import { parseManifest } from '../idlayers/manifest.ts';
import { safeSidecarName } from '../idlayers/sidecar.ts';

/** A manifest file beside a picture. */
export interface Sidecar {
  name: string;
  text: string;
}

const stem = (name: string) => name.replace(/\.[^.]*$/, '');

function isManifest({ text }: Sidecar): boolean {
  try {
    parseManifest(text);
    return true;
  } catch {
    return false;
  }
}

/** Names of the manifest files that a picture asks for; one that would leave its folder is not among them. */
export const sidecarsWanted = (header: Pick<ExrHeader, 'attributes' | 'channels'>): string[] =>
  findCryptomattes(header).flatMap(({ sidecar }) => {
    const name = sidecar === undefined ? undefined : safeSidecarName(sidecar);
    return name === undefined ? [] : [name];
  });

/**
 * Decides which manifest belongs to which layer of a picture. In this order: the file that the header names; the one
 * called as the picture is; the only one that is a manifest at all, because pictures get renamed and their manifests
 * do not, or the other way round.
 * @returns texts by the name under which the header asks for them
 */
export function matchSidecars(
  header: Pick<ExrHeader, 'attributes' | 'channels'>,
  picture: string,
  sidecars: readonly Sidecar[],
): Map<string, string> {
  const matched = new Map<string, string>();
  const wanted = sidecarsWanted(header);
  if (wanted.length === 0 || sidecars.length === 0) return matched;
  const claimed = new Set(wanted);
  const free = sidecars.filter((s) => !claimed.has(s.name) && isManifest(s));
  for (const name of wanted) {
    const found =
      sidecars.find((s) => s.name === name) ??
      free.find((s) => stem(s.name) === stem(picture)) ??
      (free.length === 1 ? free[0] : undefined);
    if (found) matched.set(name, found.text);
  }
  return matched;
}
