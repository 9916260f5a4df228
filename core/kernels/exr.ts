/**
 * ZIP blocks of OpenEXR files: inflate (RFC 1950 and 1951), the predictor, and weaving bytes back into samples.
 * All buffers are addresses in linear memory, laid out by the caller from `heap()` on.
 *
 * Bits are taken from a 64-bit buffer that is filled to at least 56 bits at a time, so a whole length and distance fit.
 * Codes are looked up in a table of the first bits; longer ones go through a second table. An entry is: bits 0 to 3 the
 * code's length, 4 to 7 its extra bits, 8 to 15 its kind, 16 to 31 its value.
 */
const LITERAL_BITS: u32 = 10;
const DISTANCE_BITS: u32 = 9;
const LENGTH_BITS: u32 = 7;
const LONGEST: u32 = 15;

const KIND_LITERAL: u32 = 0;
const KIND_PAIR: u32 = 1;
const KIND_END: u32 = 2;
const KIND_LINK: u32 = 3;
const KIND_BAD: u32 = 255;
/** An entry that no code leads to. */
const NO_CODE: u32 = 0xffffffff;

const OK: i32 = 0;
const DAMAGED: i32 = 1;

const literalTable = memory.data(4 * (1 << 15), 16);
const distanceTable = memory.data(4 * (1 << 15), 16);
const lengths = memory.data(320, 16);
const counts = memory.data(4 * 17, 16);
const nextCode = memory.data(4 * 17, 16);
const lengthBase = memory.data<u16>([
  3, 4, 5, 6, 7, 8, 9, 10, 11, 13, 15, 17, 19, 23, 27, 31, 35, 43, 51, 59, 67, 83, 99, 115, 131, 163, 195,
  227, 258, 0, 0,
]);
const lengthExtra = memory.data<u8>([
  0, 0, 0, 0, 0, 0, 0, 0, 1, 1, 1, 1, 2, 2, 2, 2, 3, 3, 3, 3, 4, 4, 4, 4, 5, 5, 5, 5, 0, 0, 0,
]);
const distanceBase = memory.data<u16>([
  1, 2, 3, 4, 5, 7, 9, 13, 17, 25, 33, 49, 65, 97, 129, 193, 257, 385, 513, 769, 1025, 1537, 2049, 3073, 4097,
  6145, 8193, 12289, 16385, 24577, 0, 0,
]);
const distanceExtra = memory.data<u8>([
  0, 0, 0, 0, 1, 1, 2, 2, 3, 3, 4, 4, 5, 5, 6, 6, 7, 7, 8, 8, 9, 9, 10, 10, 11, 11, 12, 12, 13, 13, 0, 0,
]);
const lengthOrder = memory.data<u8>([16, 17, 18, 0, 8, 7, 9, 6, 10, 5, 11, 4, 12, 3, 13, 2, 14, 1, 15]);

/** First address that is free for the caller. */
export function heap(): usize {
  return (__heap_base + 63) & ~63;
}

function reversed(code: u32, bits: u32): u32 {
  let out: u32 = 0;
  for (let i: u32 = 0; i < bits; i++) {
    out = (out << 1) | (code & 1);
    code >>= 1;
  }
  return out;
}

function entryOf(symbol: u32, length: u32, distances: bool): u32 {
  if (distances) {
    const s = min<u32>(symbol, 31);
    const kind = s < 30 ? KIND_PAIR : KIND_BAD;
    return (
      length |
      ((<u32>load<u8>(distanceExtra + s)) << 4) |
      (kind << 8) |
      ((<u32>load<u16>(distanceBase + 2 * s)) << 16)
    );
  }
  if (symbol < 256) return length | (symbol << 16);
  if (symbol == 256) return length | (KIND_END << 8);
  const s = min<u32>(symbol - 257, 30);
  const kind = s < 29 ? KIND_PAIR : KIND_BAD;
  return (
    length |
    ((<u32>load<u8>(lengthExtra + s)) << 4) |
    (kind << 8) |
    ((<u32>load<u16>(lengthBase + 2 * s)) << 16)
  );
}

/** Builds the table of `count` code lengths. A set that claims more codes than there are is damage. */
function buildTable(from: usize, count: u32, table: usize, bits: u32, distances: bool): i32 {
  memory.fill(counts, 0, 4 * 17);
  for (let i: u32 = 0; i < count; i++) {
    const at = counts + 4 * <usize>load<u8>(from + i);
    store<u32>(at, load<u32>(at) + 1);
  }
  store<u32>(counts, 0);
  let code: u32 = 0;
  let left: i32 = 1;
  for (let l: u32 = 1; l <= LONGEST; l++) {
    left = (left << 1) - <i32>load<u32>(counts + 4 * l);
    if (left < 0) return DAMAGED;
    code = (code + load<u32>(counts + 4 * (l - 1))) << 1;
    store<u32>(nextCode + 4 * l, code);
  }
  const size: u32 = 1 << bits;
  const mask = size - 1;
  const linked: u32 = 1 << (LONGEST - bits);
  memory.fill(table, 0xff, 4 * size);
  let next: u32 = size;
  for (let symbol: u32 = 0; symbol < count; symbol++) {
    const length = <u32>load<u8>(from + symbol);
    if (length == 0) continue;
    const own = load<u32>(nextCode + 4 * length);
    store<u32>(nextCode + 4 * length, own + 1);
    const turned = reversed(own, length);
    const entry = entryOf(symbol, length, distances);
    if (length <= bits) {
      for (let k: u32 = turned; k < size; k += 1 << length) store<u32>(table + 4 * k, entry);
    } else {
      const top = turned & mask;
      let link = load<u32>(table + 4 * top);
      if (((link >> 8) & 255) != KIND_LINK) {
        link = bits | (KIND_LINK << 8) | (next << 16);
        store<u32>(table + 4 * top, link);
        memory.fill(table + 4 * next, 0xff, 4 * linked);
        next += linked;
      }
      const base = link >> 16;
      for (let k: u32 = turned >> bits; k < linked; k += 1 << (length - bits))
        store<u32>(table + 4 * (base + k), entry - bits);
    }
  }
  return OK;
}

/** The checksum of RFC 1950 over `n` bytes. */
function adler32(p: usize, n: usize): u32 {
  let a: u32 = 1;
  let b: u32 = 0;
  // As many bytes as fit before the sums must be reduced, in whole vectors.
  const MOST: usize = 5536;
  while (n > 0) {
    const part = min<usize>(n, MOST);
    n -= part;
    const whole = part & ~15;
    if (whole) {
      // b grows by a for each byte, and by every byte as often as there are bytes from it on.
      let sumA = i32x4.splat(0);
      let sumB = i32x4.splat(0);
      let steps = i32x4.splat(0);
      const lowWeights = i16x8(16, 15, 14, 13, 12, 11, 10, 9);
      const highWeights = i16x8(8, 7, 6, 5, 4, 3, 2, 1);
      const ones = i16x8.splat(1);
      const end = p + whole;
      for (; p < end; p += 16) {
        const v = v128.load(p);
        const low = i16x8.extend_low_i8x16_u(v);
        const high = i16x8.extend_high_i8x16_u(v);
        steps = i32x4.add(steps, sumA);
        sumA = i32x4.add(sumA, i32x4.dot_i16x8_s(i16x8.add(low, high), ones));
        sumB = i32x4.add(
          sumB,
          i32x4.add(i32x4.dot_i16x8_s(low, lowWeights), i32x4.dot_i16x8_s(high, highWeights)),
        );
      }
      const allB =
        i32x4.extract_lane(sumB, 0) +
        i32x4.extract_lane(sumB, 1) +
        i32x4.extract_lane(sumB, 2) +
        i32x4.extract_lane(sumB, 3);
      const allSteps =
        <u64>(<u32>i32x4.extract_lane(steps, 0)) +
        <u64>(<u32>i32x4.extract_lane(steps, 1)) +
        <u64>(<u32>i32x4.extract_lane(steps, 2)) +
        <u64>(<u32>i32x4.extract_lane(steps, 3));
      const allA =
        i32x4.extract_lane(sumA, 0) +
        i32x4.extract_lane(sumA, 1) +
        i32x4.extract_lane(sumA, 2) +
        i32x4.extract_lane(sumA, 3);
      b = <u32>((<u64>b + <u64>a * <u64>whole + 16 * allSteps + <u64>(<u32>allB)) % 65521);
      a = (a + <u32>allA) % 65521;
    }
    for (let end = p + (part - whole); p < end; p++) {
      a += load<u8>(p);
      b += a;
    }
    a %= 65521;
    b %= 65521;
  }
  return (b << 16) | a;
}

/**
 * Inflates a zlib stream of `n` bytes at `src` to exactly `size` bytes at `dst`. 24 bytes after the stream's end must be
 * readable. Returns 0, or 1 if the stream is damaged or of another size.
 */
export function inflate(src: usize, n: u32, dst: usize, size: u32): i32 {
  if (n < 6) return DAMAGED;
  const head = ((<u32>load<u8>(src)) << 8) | load<u8>(src + 1);
  if (head % 31 != 0 || (head & 0x0f00) != 0x0800 || head & 0x20) return DAMAGED;
  const inEnd: usize = src + n;
  const outEnd: usize = dst + size;
  let ip: usize = src + 2;
  let op: usize = dst;
  let held: u64 = 0;
  let have: u32 = 0;
  let last: u32 = 0;
  while (!last) {
    if (ip > inEnd + 8) return DAMAGED;
    held |= load<u64>(ip) << have;
    ip += (63 - have) >> 3;
    have |= 56;
    last = <u32>held & 1;
    const type = (<u32>held >> 1) & 3;
    held >>= 3;
    have -= 3;
    if (type == 0) {
      // Stored: whole bytes are given back.
      ip -= have >> 3;
      held = 0;
      have = 0;
      if (ip + 4 > inEnd) return DAMAGED;
      const length = <u32>load<u16>(ip);
      if ((length ^ <u32>load<u16>(ip + 2)) != 0xffff) return DAMAGED;
      ip += 4;
      if (op + length > outEnd || ip + length > inEnd) return DAMAGED;
      memory.copy(op, ip, length);
      op += length;
      ip += length;
      continue;
    }
    if (type == 3) return DAMAGED;
    if (type == 1) {
      memory.fill(lengths, 8, 144);
      memory.fill(lengths + 144, 9, 112);
      memory.fill(lengths + 256, 7, 24);
      memory.fill(lengths + 280, 8, 8);
      buildTable(lengths, 288, literalTable, LITERAL_BITS, false);
      memory.fill(lengths, 5, 30);
      buildTable(lengths, 30, distanceTable, DISTANCE_BITS, true);
    } else {
      const literals = (<u32>held & 31) + 257;
      const distances = ((<u32>held >> 5) & 31) + 1;
      const codes = ((<u32>held >> 10) & 15) + 4;
      held >>= 14;
      have -= 14;
      memory.fill(lengths, 0, 19);
      for (let i: u32 = 0; i < codes; i++) {
        if (have < 3) {
          held |= load<u64>(ip) << have;
          ip += (63 - have) >> 3;
          have |= 56;
        }
        store<u8>(lengths + load<u8>(lengthOrder + i), <u8>(held & 7));
        held >>= 3;
        have -= 3;
      }
      if (buildTable(lengths, 19, distanceTable, LENGTH_BITS, false)) return DAMAGED;
      const total = literals + distances;
      let previous: u8 = 0;
      for (let i: u32 = 0; i < total;) {
        held |= load<u64>(ip) << have;
        ip += (63 - have) >> 3;
        have |= 56;
        if (ip > inEnd + 8) return DAMAGED;
        const entry = load<u32>(distanceTable + 4 * (<u32>held & 127));
        if (entry == NO_CODE) return DAMAGED;
        const symbol = entry >> 16;
        held >>= entry & 15;
        have -= entry & 15;
        if (symbol < 16) {
          store<u8>(lengths + i++, <u8>symbol);
          previous = <u8>symbol;
          continue;
        }
        let run: u32;
        let value: u8 = 0;
        if (symbol == 16) {
          if (i == 0) return DAMAGED;
          run = 3 + (<u32>held & 3);
          held >>= 2;
          have -= 2;
          value = previous;
        } else if (symbol == 17) {
          run = 3 + (<u32>held & 7);
          held >>= 3;
          have -= 3;
          previous = 0;
        } else {
          run = 11 + (<u32>held & 127);
          held >>= 7;
          have -= 7;
          previous = 0;
        }
        if (i + run > total) return DAMAGED;
        memory.fill(lengths + i, value, run);
        i += run;
      }
      if (buildTable(lengths + literals, distances, distanceTable, DISTANCE_BITS, true)) return DAMAGED;
      if (buildTable(lengths, literals, literalTable, LITERAL_BITS, false)) return DAMAGED;
    }
    for (;;) {
      held |= load<u64>(ip) << have;
      ip += (63 - have) >> 3;
      have |= 56;
      if (ip > inEnd + 8) return DAMAGED;
      let entry = load<u32>(literalTable + 4 * (<u32>held & ((1 << LITERAL_BITS) - 1)));
      if ((entry & 0xff00) == 0) {
        // Up to three literals before bits are taken again.
        if (op >= outEnd) return DAMAGED;
        held >>= entry & 15;
        have -= entry & 15;
        store<u8>(op++, <u8>(entry >> 16));
        entry = load<u32>(literalTable + 4 * (<u32>held & ((1 << LITERAL_BITS) - 1)));
        if ((entry & 0xff00) == 0) {
          if (op >= outEnd) return DAMAGED;
          held >>= entry & 15;
          have -= entry & 15;
          store<u8>(op++, <u8>(entry >> 16));
          entry = load<u32>(literalTable + 4 * (<u32>held & ((1 << LITERAL_BITS) - 1)));
          if ((entry & 0xff00) == 0) {
            if (op >= outEnd) return DAMAGED;
            held >>= entry & 15;
            have -= entry & 15;
            store<u8>(op++, <u8>(entry >> 16));
            continue;
          }
        }
        if (have < 48) {
          held |= load<u64>(ip) << have;
          ip += (63 - have) >> 3;
          have |= 56;
        }
      }
      if (((entry >> 8) & 255) == KIND_LINK) {
        held >>= LITERAL_BITS;
        have -= LITERAL_BITS;
        entry = load<u32>(
          literalTable + 4 * ((entry >> 16) + (<u32>held & ((1 << (LONGEST - LITERAL_BITS)) - 1))),
        );
      }
      const kind = (entry >> 8) & 255;
      if (kind == KIND_BAD) return DAMAGED;
      held >>= entry & 15;
      have -= entry & 15;
      if (kind == KIND_LITERAL) {
        if (op >= outEnd) return DAMAGED;
        store<u8>(op++, <u8>(entry >> 16));
        continue;
      }
      if (kind == KIND_END) break;
      let extra = (entry >> 4) & 15;
      const length = (entry >> 16) + (<u32>held & ((1 << extra) - 1));
      held >>= extra;
      have -= extra;
      entry = load<u32>(distanceTable + 4 * (<u32>held & ((1 << DISTANCE_BITS) - 1)));
      if (((entry >> 8) & 255) == KIND_LINK) {
        held >>= DISTANCE_BITS;
        have -= DISTANCE_BITS;
        entry = load<u32>(
          distanceTable + 4 * ((entry >> 16) + (<u32>held & ((1 << (LONGEST - DISTANCE_BITS)) - 1))),
        );
      }
      if (((entry >> 8) & 255) != KIND_PAIR) return DAMAGED;
      held >>= entry & 15;
      have -= entry & 15;
      extra = (entry >> 4) & 15;
      const distance: usize = (entry >> 16) + (<u32>held & ((1 << extra) - 1));
      held >>= extra;
      have -= extra;
      if (op - dst < distance || op + length > outEnd) return DAMAGED;
      let from = op - distance;
      const stop = op + length;
      if (distance == 1) memory.fill(op, load<u8>(from), length);
      else if (distance >= 8 && stop + 8 <= outEnd) {
        // Up to seven bytes too many, which what follows writes again.
        let to = op;
        do {
          store<u64>(to, load<u64>(from));
          to += 8;
          from += 8;
        } while (to < stop);
      } else {
        let to = op;
        while (to < stop) store<u8>(to++, load<u8>(from++));
      }
      op = stop;
    }
  }
  if (op != outEnd) return DAMAGED;
  const end = ip - (have >> 3);
  if (end + 4 > inEnd) return DAMAGED;
  return bswap<u32>(load<u32>(end)) == adler32(dst, size) ? OK : DAMAGED;
}

/** Undoes the predictor in place: every byte becomes the running sum, less 128 a byte. */
export function unpredict(p: usize, n: u32): void {
  if (n == 0) return;
  let i: u32 = 1;
  let last: u32 = load<u8>(p);
  for (; i < n && i & 15; i++) {
    last = (last + load<u8>(p + i) - 128) & 255;
    store<u8>(p + i, <u8>last);
  }
  // Sums of 16 bytes at a time by doubling steps; less 128 is turning the highest bit.
  const zero = i8x16.splat(0);
  const highest = i8x16.splat(-128);
  let carry = i8x16.splat(<i8>last);
  for (; i + 16 <= n; i += 16) {
    let v = v128.xor(v128.load(p + i), highest);
    v = i8x16.add(v, i8x16.shuffle(zero, v, 15, 16, 17, 18, 19, 20, 21, 22, 23, 24, 25, 26, 27, 28, 29, 30));
    v = i8x16.add(v, i8x16.shuffle(zero, v, 14, 15, 16, 17, 18, 19, 20, 21, 22, 23, 24, 25, 26, 27, 28, 29));
    v = i8x16.add(v, i8x16.shuffle(zero, v, 12, 13, 14, 15, 16, 17, 18, 19, 20, 21, 22, 23, 24, 25, 26, 27));
    v = i8x16.add(v, i8x16.shuffle(zero, v, 8, 9, 10, 11, 12, 13, 14, 15, 16, 17, 18, 19, 20, 21, 22, 23));
    v = i8x16.add(v, carry);
    v128.store(p + i, v);
    carry = i8x16.shuffle(v, v, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15, 15);
  }
  last = i8x16.extract_lane_u(carry, 0);
  for (; i < n; i++) {
    last = (last + load<u8>(p + i) - 128) & 255;
    store<u8>(p + i, <u8>last);
  }
}

/**
 * Weaves the raw bytes `from` to `from + count` (both even) of a block whose even bytes lie at `p` and whose odd bytes
 * lie `half` further on.
 */
export function weave(p: usize, half: u32, from: u32, count: u32, dst: usize): void {
  let even = p + (from >> 1);
  let odd = even + half;
  let n = count >> 1;
  while (n >= 16) {
    const a = v128.load(even);
    const b = v128.load(odd);
    v128.store(dst, i8x16.shuffle(a, b, 0, 16, 1, 17, 2, 18, 3, 19, 4, 20, 5, 21, 6, 22, 7, 23));
    v128.store(dst + 16, i8x16.shuffle(a, b, 8, 24, 9, 25, 10, 26, 11, 27, 12, 28, 13, 29, 14, 30, 15, 31));
    even += 16;
    odd += 16;
    dst += 32;
    n -= 16;
  }
  for (; n > 0; n--) {
    store<u8>(dst, load<u8>(even++));
    store<u8>(dst + 1, load<u8>(odd++));
    dst += 2;
  }
}

/** The way there: splits `n` raw bytes at `src` into even and odd ones at `dst`, then takes differences plus 128. */
export function predict(src: usize, n: u32, dst: usize): void {
  let i: u32 = 0;
  let even = dst;
  let odd = dst + ((n + 1) >> 1);
  for (; i + 32 <= n; i += 32) {
    const a = v128.load(src + i);
    const b = v128.load(src + i + 16);
    v128.store(even, i8x16.shuffle(a, b, 0, 2, 4, 6, 8, 10, 12, 14, 16, 18, 20, 22, 24, 26, 28, 30));
    v128.store(odd, i8x16.shuffle(a, b, 1, 3, 5, 7, 9, 11, 13, 15, 17, 19, 21, 23, 25, 27, 29, 31));
    even += 16;
    odd += 16;
  }
  for (; i < n; i++) {
    if (i & 1) store<u8>(odd++, load<u8>(src + i));
    else store<u8>(even++, load<u8>(src + i));
  }
  // From the end, so that it can be done in place.
  const highest = i8x16.splat(-128);
  let end: i32 = n;
  for (; end - 17 >= 0; end -= 16) {
    const q = dst + end - 16;
    v128.store(q, v128.xor(i8x16.sub(v128.load(q), v128.load(q - 1)), highest));
  }
  for (end--; end > 0; end--)
    store<u8>(dst + end, <u8>(<u32>load<u8>(dst + end) - load<u8>(dst + end - 1) + 128));
}
