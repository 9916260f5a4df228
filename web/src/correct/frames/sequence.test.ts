import { createPinia, setActivePinia } from 'pinia';
import type { Version } from '@zesty-crow/server/contract';
import { FakeServer } from '../../../test/fake-server.ts';
import { useSequence } from './sequence.ts';

/** As the shot tells it each time that something of it is news. */
const told = (id: string) => ({ id, frames: [] }) as unknown as Version;
const server = new FakeServer();
let opened: number[];
let sequence: ReturnType<typeof useSequence>;
beforeEach(() => {
  server.reset();
  setActivePinia(createPinia());
  opened = [];
  sequence = useSequence();
  sequence.setOpener((frame) => opened.push(frame));
  sequence.opened(told('one'), [1, 2, 3], 1);
});
const dwell = () => new Promise((resolve) => setTimeout(resolve, 250));

test('news of the shot do not take one back from a frame that one is on the way to', async () => {
  sequence.goBy(1);
  sequence.opened(told('one'), [1, 2, 3], 1);
  expect(sequence.at).toBe(2);
  await dwell();
  expect(opened).toEqual([2]);
});

test('the frame that is opened elsewhere, and another version, are followed', () => {
  sequence.go(2);
  sequence.opened(told('one'), [1, 2, 3], 3);
  expect(sequence.at).toBe(3);
  sequence.go(2);
  sequence.opened(told('other'), [1, 2], 1);
  expect(sequence.at).toBe(1);
  // A frame that is no longer there is left.
  sequence.go(2);
  sequence.opened(told('other'), [1], 1);
  expect(sequence.at).toBe(1);
});
