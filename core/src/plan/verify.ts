import { asFloats } from '../formats/exr/samples.ts';
import type { OpenPicture } from '../version/open-picture.ts';
import type { Finding } from '../findings/finding.ts';
import { passKind } from '../passes/registry.ts';
import type { PassUse } from './plan.ts';
import type { Roster } from '../roster/roster.ts';

/** Difference of a coverage sum from alpha that halves and rounding may bring. */
const TOLERANCE = 2e-3;

/**
 * Looks at a frame as it was written: every ID layer of the plan is there and whole, every name is in its list, and
 * in each pixel the coverages sum to what the alpha says. Through-glass layers may only sum to less.
 */
export function verifyFrame(open: OpenPicture, uses: readonly PassUse[], roster: Roster): Finding[] {
  const findings: Finding[] = open.findings.filter((f) => f.severity === 'error');
  const say = (code: string, message: string) => findings.push({ severity: 'error', code, message });
  const alphaChannel = open.beauty?.a && open.image.channels.find((c) => c.name === open.beauty!.a);
  const alpha = alphaChannel ? asFloats(alphaChannel) : undefined;
  for (const use of uses) {
    const kind = passKind(use.kind);
    if (!kind?.isolates || !kind.layer || use.kind === 'flat-colour') continue;
    const title = kind.title(use.values);
    const layer = open.layers.find((l) => l.name === kind.layer!(use.values));
    if (!layer?.planes) {
      say('layer-missing', `${title} is not in the file. Render this frame again.`);
      continue;
    }
    const names = new Set(layer.manifest.nameOf.values());
    const lost = kind.isolates(use.values, roster).filter((m) => !names.has(m.member));
    if (lost.length)
      say('names-lost', `${title}: ${lost.length} name(s) are missing, for example "${lost[0]!.member}".`);
    if (use.kind !== 'cryptomatte' && use.kind !== 'through-glass') continue;
    const { coverage, ids } = layer.planes;
    const full =
      use.kind === 'cryptomatte' && ['object', 'material'].includes(String(use.values['by'] ?? 'object'));
    let wrong = 0;
    let strangers = 0;
    for (let p = 0; p < open.width * open.height; p++) {
      let sum = 0;
      for (let rank = 0; rank < coverage.length; rank++) {
        sum += coverage[rank]![p]!;
        const id = ids[rank]![p]!;
        if (id !== 0 && !layer.manifest.nameOf.has(id)) strangers++;
      }
      // A crowd of more IDs than ranks leaves a little out.
      const crowded = coverage[coverage.length - 1]![p]! > 0;
      if (sum > 1 + TOLERANCE) wrong++;
      else if (full && alpha && !crowded && Math.abs(sum - alpha[p]!) > TOLERANCE) wrong++;
    }
    if (strangers) say('ids-strange', `${title}: ${strangers} pixels hold IDs that no name belongs to.`);
    if (wrong) say('coverage-wrong', `${title}: in ${wrong} pixels the coverages do not sum to the alpha.`);
  }
  return findings;
}
