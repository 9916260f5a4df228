// Makes tests that compare planes quick: arrays of equal bytes are equal, without a look at each number.
/* global expect */

const sameBytes = (a, b) =>
  ArrayBuffer.isView(a) &&
  ArrayBuffer.isView(b) &&
  a.constructor.name === b.constructor.name &&
  a.byteLength === b.byteLength &&
  Buffer.from(a.buffer, a.byteOffset, a.byteLength).equals(Buffer.from(b.buffer, b.byteOffset, b.byteLength));

// Where they differ, Jest itself says at which numbers.
expect.addEqualityTesters([(a, b) => (sameBytes(a, b) ? true : undefined)]);
