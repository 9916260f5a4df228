import fc from 'fast-check';
import { renderTiles } from './film.ts';
import { Turns, type Turn } from './turns.ts';

const areas = renderTiles(320, 192);
const few = renderTiles(160, 96);
const never = () => false;
const corner = { x0: 0, y0: 0, x1: 40, y1: 30 };
const looked = areas.flatMap((a, i) => (a.x0 < 40 && a.y0 < 30 ? i : []));

/** All turns of a round, one after the other. */
function all(turns: Turns, finished = never): Turn[] {
  const out: Turn[] = [];
  for (let turn = turns.next(); turn; turn = turns.next()) {
    out.push(turn);
    turns.done(turn, finished());
  }
  return out;
}

test('a round goes over every rectangle once, the middle first', () => {
  const turns = new Turns(areas, 64);
  turns.begin({ upTo: 1, grid: 1 }, never);
  expect(all(turns).map((t) => t.number)).toEqual([...areas.keys()]);
  expect(turns.over).toBe(true);
});

test('where one looks comes first and runs ahead by four times as many samples, elsewhere nothing is lost', () => {
  const turns = new Turns(areas, 64);
  turns.begin({ upTo: 1, grid: 1 }, never);
  all(turns);
  turns.look(corner);
  turns.begin({ upTo: 4, grid: 1 }, never);
  const round = all(turns);
  const first = round.slice(0, 3 * looked.length);
  expect(new Set(first.map((t) => t.number))).toEqual(new Set(looked));
  expect(Math.max(...first.map((t) => t.upTo))).toBe(16);
  expect(round.slice(first.length).every((t) => t.upTo === 4)).toBe(true);
  expect(new Set(round.map((t) => t.number)).size).toBe(areas.length);
  // They have had the next round already.
  turns.look(undefined);
  turns.begin({ upTo: 16, grid: 1 }, never);
  expect(all(turns).map((t) => t.number)).toEqual([...areas.keys()].filter((i) => !looked.includes(i)));
});

test('what is wanted soon comes before the rest', () => {
  const turns = new Turns(areas, 8);
  turns.want(40, true);
  turns.begin({ upTo: 1, grid: 1 }, never);
  expect(turns.next()!.number).toBe(40);
});

test('whatever one looks at meanwhile, every rectangle gets all samples, never two at a time, never one too many', () => {
  const look = fc.option(
    fc.record({
      x0: fc.integer({ min: 0, max: 150 }),
      y0: fc.integer({ min: 0, max: 90 }),
      w: fc.integer({ min: 1, max: 100 }),
      h: fc.integer({ min: 1, max: 100 }),
    }),
  );
  fc.assert(
    fc.property(fc.array(look, { maxLength: 6 }), fc.infiniteStream(fc.nat(20)), (looks, chance) => {
      const turns = new Turns(few, 32);
      const levels = few.map(() => 0);
      let left = [...looks];
      for (const upTo of [1, 4, 8, 16, 32]) {
        turns.begin({ upTo, grid: 1 }, never);
        const busy: Turn[] = [];
        while (!turns.over) {
          const turn = busy.length < 3 ? turns.next() : undefined;
          if (turn) {
            expect(busy.some((b) => b.number === turn.number)).toBe(false);
            expect(turn.upTo).toBeGreaterThan(levels[turn.number]!);
            busy.push(turn);
          } else {
            const [done] = busy.splice(chance.next().value! % busy.length, 1) as [Turn];
            levels[done.number] = done.upTo;
            turns.done(done, done.upTo === 32);
          }
          if (left.length && chance.next().value === 0) {
            const [area, ...rest] = left;
            left = rest;
            turns.look(
              area ? { x0: area.x0, y0: area.y0, x1: area.x0 + area.w, y1: area.y0 + area.h } : undefined,
            );
          }
        }
        expect(levels.every((n) => n >= upTo && n <= 32)).toBe(true);
      }
    }),
  );
});
