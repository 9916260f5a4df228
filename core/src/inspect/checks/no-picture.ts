import type { Check } from '../check.ts';

export const noPicture: Check = {
  code: 'no-picture',
  title: 'A picture among the passes',
  scope: 'frame',
  run: ({ beauty }) =>
    beauty
      ? []
      : [
          {
            severity: 'info',
            code: 'no-picture',
            message:
              'The file holds no picture, only data passes. Masks can be made; add the picture to correct it.',
          },
        ],
};
