import { farColours } from '../../colour/far-colours.ts';
import { makeString } from '../../formats/exr/attributes.ts';
import { eachPixel } from './ranks.ts';
import { plainChannel, type RewriteKind } from './rewrite.ts';

/** Attribute in which a pass of flat colours keeps which colour is whose. */
export const coloursAttribute = (layer: string, colours: Readonly<Record<string, readonly number[]>>) =>
  makeString(`zestyCrow/colours/${layer}`, JSON.stringify(colours));

/** Each member in a colour of its own, black where there is nothing; edges are mixtures of the values. */
export const asFlatColour: RewriteKind = {
  kind: 'flat-colour',
  label: 'Flat colours',
  loses: 'Edges where more than two things meet can be told apart only nearly.',
  write(layer, index, members) {
    const name = `flat_${layer}`;
    const names = [...new Set(members.map((m) => m.name))];
    const colours = new Map(farColours(names.length).map((c, i) => [names[i]!, c]));
    const colourOf = new Map(members.map((m) => [m.id, colours.get(m.name)!]));
    const planes = [0, 1, 2].map(() => new Float32Array(index.width * index.height));
    eachPixel(index, (p, { count, ids, coverage }) => {
      for (let i = 0; i < count; i++) {
        const colour = colourOf.get(ids[i]!);
        if (colour) planes.forEach((plane, c) => (plane[p]! += (coverage[i]! * colour[c]!) / 255));
      }
    });
    return {
      channels: ['R', 'G', 'B'].map((letter, c) => plainChannel(`${name}.${letter}`, planes[c]!)),
      attributes: [coloursAttribute(name, Object.fromEntries(colours))],
    };
  },
};
