import { factsOf, relinkReport, type LayerFacts, type MemberPick, type RelinkReport } from '@zesty-crow/core';
import { readBeside } from '../beside.ts';
import type { VersionFiles } from '../messages.ts';
import { layersThere, type Desk, type Question } from './question.ts';

/** What members of some layers of another version are told again by. */
async function factsIn(
  { openFrame, signal }: Desk,
  version: VersionFiles | undefined,
  frame: number | undefined,
  wanted: readonly string[],
): Promise<LayerFacts[] | undefined> {
  if (!version) return undefined;
  const { planes, cast } = await readBeside(await openFrame(version, frame, signal), wanted, signal);
  return cast.map((l) => factsOf(l, planes));
}

/** How picks fare in this version, against the one that they were made in, if that is known. */
export const relink: Question<
  {
    version: VersionFiles | undefined;
    frame: number | undefined;
    owners: { id: string; who: readonly MemberPick[] }[];
    layer?: undefined;
  },
  RelinkReport | undefined
> = {
  none: undefined,
  async answer(desk, { version, frame, owners }) {
    const wanted = [...new Set(owners.flatMap((o) => o.who.map((p) => p.layer)))];
    await layersThere(desk, wanted);
    const { cast, planes } = desk.open;
    const now = cast.filter((l) => wanted.includes(l.name)).map((l) => factsOf(l, planes));
    return relinkReport(owners, now, await factsIn(desk, version, frame, wanted));
  },
};
