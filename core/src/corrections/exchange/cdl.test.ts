import { execFileSync } from 'node:child_process';
import fc from 'fast-check';
import { exchangeOf } from './registry.ts';

const cdl = exchangeOf('slope-offset-power')!;

/** As the specification prints it, with an old spelling and a prefix. */
const PRINTED = `<?xml version="1.0" encoding="UTF-8"?>
<ColorDecisionList xmlns="urn:ASC:CDL:v1.01">
  <ColorDecision>
    <MediaRef ref="honey_0001"/>
    <ColorCorrection id="amber">
      <SOPNode>
        <Description>warmer</Description>
        <Slope>1.2 1.1 0.9</Slope><Offset>0.01 0 -0.02</Offset><Power>1 1.1 1.05</Power>
      </SOPNode>
      <SATNode><Saturation>0.85</Saturation></SATNode>
    </ColorCorrection>
  </ColorDecision>
  <ColorDecision><ColorCorrection><SatNode><Saturation>2</Saturation></SatNode></ColorCorrection></ColorDecision>
</ColorDecisionList>`;

test('reads decision lists as others write them', () => {
  expect(cdl.read(PRINTED)).toEqual([
    {
      name: 'amber',
      values: { slope: [1.2, 1.1, 0.9], offset: [0.01, 0, -0.02], power: [1, 1.1, 1.05], saturation: 0.85 },
    },
    {
      name: 'Correction 2',
      values: { slope: [1, 1, 1], offset: [0, 0, 0], power: [1, 1, 1], saturation: 2 },
    },
  ]);
});

test.each(['.ccc', '.cdl'])('what is written as %s is read as it was', (ending) => {
  const three = (min: number, max: number) =>
    fc.tuple(...[0, 1, 2].map(() => fc.double({ min, max, noNaN: true }).map((v) => v + 0)));
  fc.assert(
    fc.property(
      fc.record({
        slope: three(0, 100),
        offset: three(-10, 10),
        power: three(0.01, 20),
        saturation: fc.double({ min: 0, max: 20, noNaN: true }),
      }),
      (values) => {
        const items = [
          { name: 'Calm the brass & more', values: values as never },
          { name: 'Calm the brass & more', values: {} },
        ];
        const found = cdl.read(cdl.write(items, ending));
        expect(found[0]!.values).toEqual(values);
        expect(found.map((f) => f.name)).toEqual(['Calm_the_brass_more', 'Calm_the_brass_more_2']);
      },
    ),
    { numRuns: 30 },
  );
});

test.each([
  ['honey', /no XML file/],
  ['<honey/>', /holds no ASC CDL/],
  ['<ColorCorrectionCollection></ColorCorrectionCollection>', /no correction in it/],
  [
    '<ColorCorrection id="a"><SOPNode><Slope>1 2</Slope></SOPNode></ColorCorrection>',
    /slope should be three numbers/,
  ],
])('%j is refused with its reason', (text, reason) => expect(() => cdl.read(text)).toThrow(reason));

test('the words of a change are its description, and what XML cannot hold is taken out of them', () => {
  const name = 'Jars “warmer” & <calmer>\u0001\u000b\uFFFE, please';
  for (const ending of ['.ccc', '.cdl'] as const) {
    const text = cdl.write([{ name, values: {} }], ending);
    const read = execFileSync(
      'python3',
      [
        '-c',
        'import sys, xml.etree.ElementTree as e; print([d.text for d in e.parse(sys.stdin).iter() if d.tag.endswith("Description")][0])',
      ],
      { input: text, encoding: 'utf8' },
    );
    expect(read.trim()).toBe('Jars “warmer” & <calmer>, please');
  }
});

test('of several nodes in a correction none is taken for neutral', () => {
  const node = '<SOPNode><Slope>2 2 2</Slope></SOPNode>';
  const text = (inside: string) => `<ColorCorrection id="jars">${inside}</ColorCorrection>`;
  expect(cdl.read(text(node))[0]!.values['slope']).toEqual([2, 2, 2]);
  expect(() => cdl.read(text(node + node))).toThrow('“jars” has several SOPNode');
});
