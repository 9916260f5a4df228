import type { Check } from '../check.ts';

export const overscan: Check = {
  code: 'windows-differ',
  title: 'Stored pixels against the frame',
  scope: 'frame',
  run: ({ image: { header } }) => {
    const { dataWindow: d, displayWindow: w } = header;
    if (d.xMin === w.xMin && d.yMin === w.yMin && d.xMax === w.xMax && d.yMax === w.yMax) return [];
    return [
      {
        severity: 'info',
        code: 'windows-differ',
        message: `The stored pixels (${d.xMin}, ${d.yMin} to ${d.xMax}, ${d.yMax}) are not exactly the frame (${w.xMin}, ${w.yMin} to ${w.xMax}, ${w.yMax}). Masks and pictures keep both.`,
      },
    ];
  },
};
