import { encodeCryptomatte } from '../../idlayers/cryptomatte.ts';
import { ranksOf } from './ranks.ts';
import { listedNames, type RewriteKind } from './rewrite.ts';

/** Names and soft edges of any number of members: the one form that holds all. */
export const asCryptomatte: RewriteKind = {
  kind: 'cryptomatte',
  label: 'Cryptomatte',
  write(layer, index, members) {
    const ids = new Set(members.map((m) => m.id));
    return encodeCryptomatte(
      layer,
      ranksOf(index, (id) => ids.has(id)),
      listedNames(members),
    );
  },
};
