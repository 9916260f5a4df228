import type { CubeTable } from '@zesty-crow/core';
import type { Question } from './question.ts';

/** The table by which the picture is shown where the view says so; none takes it away. */
export const useTable: Question<{ table: CubeTable | undefined; layer?: undefined }, undefined> = {
  none: undefined,
  answer(desk, { table }) {
    desk.useTable(table);
    return undefined;
  },
};
