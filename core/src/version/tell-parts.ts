import type { Finding } from '../findings/finding.ts';
import type { ExrOutline } from '../formats/exr/read.ts';
import { boxHeight, boxWidth } from '../planes/box.ts';

/** What is wrong with the parts of a file, told before any pixel is read. */
export function tellParts(
  file: string,
  parts: ExrOutline['parts'],
  refused: ExrOutline['refused'],
): Finding[] {
  const findings = refused.map(({ name, reason }): Finding => ({
    severity: 'warning',
    code: 'deep-part',
    message: `${file}: the part "${name}" was passed over. ${reason}`,
  }));
  const profile = parts.find((p) => p.profile)?.profile;
  if (profile)
    findings.push({
      severity: 'info',
      code: 'profile-embedded',
      message: `${file} has ${profile}. It is not applied: its numbers are taken as those of sRGB.`,
    });
  for (const { name, missing, dataWindow: box } of parts) {
    if (!missing) continue;
    const pixels = missing.reduce((sum, b) => sum + boxWidth(b) * boxHeight(b), 0);
    const share = (100 * pixels) / (boxWidth(box) * boxHeight(box));
    findings.push({
      severity: 'error',
      code: 'file-cut-off',
      message: `${file} ends too soon: ${share < 1 ? 'less than 1' : Math.round(share)} % of ${name ? `the part "${name}"` : 'the picture'} is missing. What is there is shown; copy or render the file again.`,
      places: missing.map((b) => ({
        x0: b.xMin - box.xMin,
        y0: b.yMin - box.yMin,
        x1: b.xMax - box.xMin + 1,
        y1: b.yMax - box.yMin + 1,
      })),
    });
  }
  return findings;
}
