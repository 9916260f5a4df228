import { idColour } from '../display/id-colours.ts';
import { idOfName } from '../idlayers/ids.ts';
import type { Roster } from '../roster/roster.ts';
import type { Rgb } from '../scene/scene.ts';
import type { PassKind, Values } from './pass.ts';

/**
 * What an ID pass looks like: for each part of the roster the colour, as shown on a screen, 0 to 1, that a pixel has in
 * which nothing else is seen; black is what the pass does not hold. A part in several slots of a puzzle matte has the sum
 * of their colours. Nothing for a pass that holds no IDs.
 */
export function passColours(kind: PassKind, values: Values, roster: Roster): Rgb[] | undefined {
  const members = kind.isolates?.(values, roster);
  if (!members) return undefined;
  const own = kind.memberColours?.(values, members);
  const colours = roster.parts.map((): [number, number, number] => [0, 0, 0]);
  members.forEach(({ member, parts }, i) => {
    const colour = own?.[i] ?? idColour(idOfName(member)).map((c) => c / 255);
    for (const part of parts)
      for (let k = 0; k < 3; k++) colours[part]![k] = Math.min(1, colours[part]![k]! + colour[k]!);
  });
  return colours;
}
