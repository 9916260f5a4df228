import { emptyChangeList, noMask, type Change, type ChangeList } from '../src/changes/change.ts';
import { setValues } from '../src/changes/edit/values.ts';
import { patchOf } from '../src/fields/patch.ts';
import { time, type Tell } from './report.ts';

/** Ticks that are timed together: one alone is shorter than the clock tells. */
const TICKS = 200;

const change = (i: number): Change => ({
  ...noMask(),
  id: `change-${i}`,
  words: 'The lids in the green of the hive, a touch darker',
  on: true,
  done: false,
  plainEdges: false,
  who: [0, 1, 2].map((k) => ({ mode: 'with', layer: 'CryptoObject', member: `table/jars/jar_${i}_${k}` })),
  edge: [{ id: `edge-${i}`, kind: 'feather', on: true, values: { size: 4 } }],
  corrections: [
    { id: `light-${i}`, kind: 'exposure', on: true, values: { stops: 0.5 } },
    { id: `tint-${i}`, kind: 'tint', on: true, values: { amount: 40 } },
  ],
});

/** A tick of a slider: the edit, and what of it goes to the worker, in lists of a length and of ten times that. */
export async function editFigures(tell: Tell): Promise<void> {
  for (const count of [60, 600]) {
    let list: ChangeList = {
      ...emptyChangeList(),
      changes: Array.from({ length: count }, (_, i) => change(i)),
    };
    let bytes = 0;
    let stops = 0;
    const tick = () => {
      const before = list;
      list = setValues(before, {}, 'change-3', 'corrections', 'light-3', { stops: (stops += 0.001) })!.list;
      bytes = JSON.stringify(patchOf(before, list)).length;
    };
    const ms = (await time(() => Array.from({ length: TICKS }, tick))) / TICKS;
    const text = (await time(() => Array.from({ length: TICKS }, () => JSON.stringify(list)))) / TICKS;
    tell(
      {
        name: `tick of a slider, ${count} changes`,
        value: ms / text,
        unit: 'x',
        goal: 1,
        better: 'less',
        against: `turning the list into text once, ${text.toFixed(2)} ms`,
      },
      {
        name: `bytes of a tick, ${count} changes`,
        value: bytes,
        unit: 'bytes',
        goal: 2000,
        better: 'less',
        against: `the whole list, ${JSON.stringify(list).length} bytes`,
      },
    );
  }
}
