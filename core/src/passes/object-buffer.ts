import { partsOfWho, type Roster } from '../roster/roster.ts';
import { makeNumberedLayer } from '../idlayers/numbered.ts';
import { channelOf, whoOf, whoTitle, type PassKind, type PassSource, type Values } from './pass.ts';
import type { Who } from '../roster/names.ts';

export const BUFFER_LAYER = 'Buffers';

/** Parts of the film's scene that are among some parts of the roster. */
export const inFilm = ({ place }: PassSource, parts: readonly number[]): boolean[] => {
  const wanted = new Set(parts);
  return place.map((p) => wanted.has(p));
};

const slug = (text: string) => text.replace(/[^\p{L}\p{N}]+/gu, '_').slice(0, 60);

/** Name of a member in files and for picking. */
export function bufferName(who: Who | undefined): string {
  if (!who) return 'none';
  if ('number' in who)
    return `${who.of === 'material number' ? 'material_' : ''}${String(who.number).padStart(2, '0')}`;
  return slug(who.members.join('_')) || 'none';
}

/** Says if a buffer or slot would show nothing. */
export function whoFault(who: Who | undefined, roster: Roster) {
  if (!who) return { severity: 'error' as const, message: 'say what it shall show.' };
  if (partsOfWho(who, roster).length > 0) return undefined;
  return 'number' in who
    ? {
        severity: 'error' as const,
        message: `nothing in the scene has ${whoTitle(who)}. Number something, or remove the pass.`,
      }
    : {
        severity: 'error' as const,
        message: `nothing in the scene is called ${who.members.map((m) => `"${m}"`).join(', ') || 'so'}.`,
      };
}

const channel = (v: Values) => `buffer_${bufferName(whoOf(v, 'who'))}.Y`;

/** One grey picture: the coverage of one number, or of a list. */
export const objectBuffer: PassKind = {
  kind: 'object-buffer',
  label: 'Object buffer',
  group: 'ids',
  hint: 'One grey picture for one number or list: small, and any program can use it.',
  fields: [{ kind: 'who', key: 'who', label: 'Shows', optional: false }],
  title: (v) => `Object buffer of ${whoTitle(whoOf(v, 'who'))}`,
  gather: () => ({ ids: true }),
  channels: (v) => [{ name: channel(v), type: 'float' }],
  layer: () => BUFFER_LAYER,
  isolates(v, roster) {
    const who = whoOf(v, 'who');
    return who ? [{ member: bufferName(who), parts: partsOfWho(who, roster) }] : [];
  },
  memberColours: () => [[1, 1, 1]],
  fault: (v, roster) => whoFault(whoOf(v, 'who'), roster),
  make(v, source) {
    const who = whoOf(v, 'who')!;
    const sets = inFilm(source, partsOfWho(who, source.roster)).map((is) => (is ? [0] : []));
    const [plane] = source.film.coverage(sets, 1);
    const member = bufferName(who);
    return {
      channels: [channelOf(channel(v), plane!, 'float')],
      attributes: [
        makeNumberedLayer({
          layer: BUFFER_LAYER,
          kind: 'object-buffer',
          members: [{ channel: channel(v), member }],
        }),
      ],
    };
  },
};
