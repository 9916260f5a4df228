import { shareArrays } from './share.ts';

test('arrays of numbers are shared, each once, and everything else stays as it is', () => {
  const positions = Float32Array.of(1, 2, 3);
  const value = {
    positions,
    end: positions,
    part: new Uint8Array([9, 8, 7, 6]).subarray(1, 3),
    list: [{ matrix: Float64Array.of(0.5) }, 'jar', null, undefined],
    deep: { on: true, name: 'hive', none: undefined },
  };
  const shared = shareArrays(value);
  expect(shared).toEqual(value);
  expect(shared.positions.buffer).toBeInstanceOf(SharedArrayBuffer);
  expect(shared.end).toBe(shared.positions);
  // Only the part that is seen, not the whole buffer behind it.
  expect(shared.part.buffer.byteLength).toBe(2);
  shared.positions[0] = 7;
  expect(positions[0]).toBe(1);
});
