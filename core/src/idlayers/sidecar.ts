/**
 * The file name a manifest attribute points at, or undefined where it would leave the picture's folder.
 * Only plain names are followed: no separators of any system, no parent folder, no drive.
 */
export function safeSidecarName(name: string): string | undefined {
  return name === '' || name === '.' || name === '..' || /[/\\:\0]/.test(name) ? undefined : name;
}

/** Under which name the list of a layer is handed over that the header does not ask for. No file is called so. */
export const addedLater = (layer: string): string => `/${layer}`;
