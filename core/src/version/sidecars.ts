import type { ExrHeader } from '../formats/exr/types.ts';
import { findCryptomattes } from '../idlayers/cryptomatte.ts';
import { parseManifest } from '../idlayers/manifest.ts';
import { addedLater, safeSidecarName } from '../idlayers/sidecar.ts';

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
 * do not, or the other way round. A layer without any list takes one that is called like it or the picture, or the only
 * one there is: it was added later.
 * @returns texts by the name under which the header asks for them
 */
export function matchSidecars(
  header: Pick<ExrHeader, 'attributes' | 'channels'>,
  picture: string,
  sidecars: readonly Sidecar[],
): Map<string, string> {
  const matched = new Map<string, string>();
  const wanted = sidecarsWanted(header);
  if (sidecars.length === 0) return matched;
  const claimed = new Set(wanted);
  const free = sidecars.filter((s) => !claimed.has(s.name) && isManifest(s));
  for (const name of wanted) {
    const found =
      sidecars.find((s) => s.name === name) ??
      free.find((s) => stem(s.name) === stem(picture)) ??
      (free.length === 1 ? free[0] : undefined);
    if (found) matched.set(name, found.text);
  }
  // A layer that asks for none: one may have been added later.
  const nameless = findCryptomattes(header).filter(
    (i) => i.manifest === undefined && i.sidecar === undefined,
  );
  const left = free.filter((s) => ![...matched.values()].includes(s.text));
  for (const { name } of nameless) {
    const found =
      left.find((s) => stem(s.name).toLowerCase().includes(name.toLowerCase())) ??
      left.find((s) => stem(s.name) === stem(picture)) ??
      (left.length === 1 && nameless.length === 1 ? left[0] : undefined);
    if (found) matched.set(addedLater(name), found.text);
  }
  return matched;
}
