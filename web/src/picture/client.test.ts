import { patched, type Patch } from '@zesty-crow/core';
import * as Comlink from 'comlink';
import { PictureClient } from './client.ts';
import { EMPTY_VIEW } from './empty-view.ts';
import type { ViewState } from './messages.ts';

/** A client, and what its worker was shown. */
function connected() {
  const { port1, port2 } = new MessageChannel();
  const told: (Patch | undefined)[] = [];
  let view: unknown;
  Comlink.expose(
    {
      show(patch: Patch | undefined) {
        told.push(patch);
        if (patch) view = patched(view, patch);
      },
    },
    port2 as unknown as Comlink.Endpoint,
  );
  port1.start();
  const worker = Object.assign(port1, { terminate: () => port1.close() }) as unknown as Worker;
  const client = new PictureClient(worker);
  const show = async (next: ViewState, revision: number) => {
    client.show(next, revision);
    await new Promise((resolve) => setTimeout(resolve, 20));
    return view;
  };
  const close = () => {
    client.close();
    port2.close();
  };
  return { show, told, close };
}

test('a worker is told a view as a whole, and then what is different in the next ones', async () => {
  const { show, told, close } = connected();
  expect(await show(EMPTY_VIEW, 1)).toEqual(EMPTY_VIEW);
  const next = { ...EMPTY_VIEW, openChange: 'a', visible: { x0: 1, y0: 2, x1: 3, y1: 4 } };
  expect(await show(next, 2)).toEqual(next);
  // The very same again has a number of its own, and nothing to tell.
  expect(await show(next, 3)).toEqual(next);
  const back = { ...next, openChange: undefined };
  expect(await show(back, 4)).toEqual(back);
  expect(told).toEqual([
    { to: EMPTY_VIEW },
    { keys: { openChange: { to: 'a' }, visible: { to: next.visible } } },
    undefined,
    { keys: { openChange: { to: undefined } } },
  ]);
  close();
});

test('after a view that could not be sent the next one is told as a whole', async () => {
  const { show, told, close } = connected();
  await show(EMPTY_VIEW, 1);
  // A function cannot travel.
  await show({ ...EMPTY_VIEW, layer: (() => 'objects') as never }, 2);
  const next = { ...EMPTY_VIEW, gain: 8 };
  expect(await show(next, 3)).toEqual(next);
  expect(told.at(-1)).toEqual({ to: next });
  close();
});
