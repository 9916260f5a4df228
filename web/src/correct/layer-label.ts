const USUAL: Record<string, [many: string, one: string]> = {
  Object: ['objects', 'object'],
  Material: ['materials', 'material'],
  Asset: ['groups', 'group'],
};
const WAYS: Record<string, { long: string; short: string }> = {
  Refracted: { long: 'through glass', short: 'behind glass' },
  Reflected: { long: 'in mirrors', short: 'in mirror' },
};

/**
 * What an ID layer is called for people: the usual names of cryptomattes and of our through-glass layers become plain
 * words, any other name stays as it is.
 */
export function layerLabel(name: string, one = false): string {
  const found = /^(Crypto|Refracted|Reflected)(\d*)(.+)$/.exec(name);
  const usual = found && USUAL[found[3]!];
  if (!found || !usual) return name;
  const way = WAYS[found[1]!];
  if (!way) return usual[one ? 1 : 0];
  // One member stands in a narrow list: its kind is short there.
  return one
    ? `${way.short}${found[2] ? ` ${found[2]}` : ''}`
    : `${usual[0]} ${way.long}${found[2] ? `, ${found[2]} deep` : ''}`;
}

const ELSEWHERE: Record<string, string> = { Refracted: 'through glass', Reflected: 'in reflections' };

/** Layers in which the same names are seen through glass or in reflections, with words for where that is. */
export function seenElsewhere(layer: string, names: readonly string[]): { layer: string; where: string }[] {
  const own = /^Crypto(.+)$/.exec(layer)?.[1];
  return names.flatMap((name) => {
    const found = /^(Refracted|Reflected)(\d*)(.+)$/.exec(name);
    if (!found || found[3] !== own) return [];
    return [{ layer: name, where: `${ELSEWHERE[found[1]!]!}${found[2] ? `, ${found[2]} deep` : ''}` }];
  });
}
