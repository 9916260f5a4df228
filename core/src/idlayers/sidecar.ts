/**
 * The file name a manifest attribute points at, or undefined where it would leave the picture's folder.
 * Only plain names are followed: no separators of any system, no parent folder, no drive.
 */
export function safeSidecarName(name: string): string | undefined {
  return name === '' || name === '.' || name === '..' || /[/\\:\0]/.test(name) ? undefined : name;
}
