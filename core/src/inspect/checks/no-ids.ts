import type { Check } from '../check.ts';

export const noIds: Check = {
  code: 'no-id-layers',
  title: 'ID layers',
  scope: 'frame',
  run: ({ layers }) =>
    layers.length
      ? []
      : [
          {
            severity: 'warning',
            code: 'no-id-layers',
            message:
              'The file has no cryptomatte. Nothing can be isolated in it; render an ID pass for this shot.',
          },
        ],
};
