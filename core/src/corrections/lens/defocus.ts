import { KernelLens } from '../../kernels/lens.ts';
import { apertureAt, apertures, LARGEST } from '../../planes/aperture.ts';
import { defineCorrection } from '../correction.ts';
import { sizeField } from '../usual-fields.ts';
import { layFromFront } from './lay-from-front.ts';
import { windowOfDepth } from './window-of-depth.ts';

interface Values {
  pass: string;
  focus: number;
  size: number;
  most: number;
  blades: string;
  along: string;
  view: number;
}

let lens: KernelLens | undefined;

/**
 * Blurs like a lens, by depth. Every pixel is spread evenly over the lens's opening, as large as its own circle of
 * confusion is. What is sharp covers what lies behind it; what is blurred in front covers softly, and where light comes
 * past it from places that the picture does not show, what lies around there stands for them. What the mask does not
 * cover gives nothing.
 */
export const defocus = defineCorrection<Values>({
  works: 'area',
  kind: 'defocus',
  label: 'Defocus by depth',
  short: 'Defocus',
  group: 'pass',
  hint: 'Blurs what is out of focus as a lens does, by the version’s depth.',
  numbers:
    'Spreads the light of each pixel evenly over a disc or polygon with a radius of size × |1 − focus / depth|. Total light is preserved. A field of view of 0 is read from the file.',
  revision: 2,
  fields: [
    { kind: 'pass', key: 'pass', label: 'Depth', like: '^(depth|z)', neutral: '' },
    {
      kind: 'number',
      key: 'focus',
      label: 'Sharp at',
      unit: 'scene units',
      min: 0.001,
      max: 1e6,
      softMax: 20,
      step: 0.05,
      neutral: 2,
    },
    sizeField(0, { label: 'Blur far away', max: LARGEST, softMax: 30, initial: 12 }),
    sizeField(20, { key: 'most', label: 'No more than', min: 1, max: LARGEST, softMax: 30 }),
    {
      kind: 'choice',
      key: 'blades',
      label: 'Aperture',
      options: [
        { value: '0', label: 'Round' },
        { value: '5', label: 'Five blades' },
        { value: '6', label: 'Six blades' },
        { value: '8', label: 'Eight blades' },
      ],
      neutral: '0',
    },
    {
      kind: 'choice',
      key: 'along',
      label: 'Depth along',
      options: [
        { value: 'file', label: 'As the file says' },
        { value: 'axis', label: 'View axis' },
        { value: 'ray', label: 'Camera ray' },
      ],
      neutral: 'file',
    },
    {
      kind: 'number',
      key: 'view',
      label: 'Field of view',
      unit: '°',
      min: 0,
      max: 170,
      softMax: 120,
      step: 1,
      neutral: 0,
    },
  ],
  idle: ({ pass, size }) => pass === '' || size === 0,
  needs: ({ pass }) => (pass === '' ? [] : [pass]),
  // The larger of the two apertures that a pixel is shared out to.
  reach({ most, blades }) {
    const list = apertures(Number(blades));
    const { at, next } = apertureAt(list, most);
    return list[next > 0 ? at + 1 : at]!.reach;
  },
  apply(window, { pass, focus, size, most, blades, along, view }, out) {
    const depth = window.passes[pass]?.[0];
    layFromFront(
      (lens ??= new KernelLens()),
      {
        ...window,
        weights: window.coverage,
        depth: depth
          ? windowOfDepth(window, depth, { along, view })
          : new Float32Array(window.coverage.length).fill(focus),
      },
      { at: focus, size, most, apertures: apertures(Number(blades)) },
      out,
    );
  },
});
