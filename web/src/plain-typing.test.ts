import { plainText } from '@zesty-crow/core/findings';
import { keepPlain } from './plain-typing.ts';

test('control characters go, all that can be read stays', () => {
  expect(plainText('Lids\u0001 in\u001b blue\r\n\tgrün 蜂蜜 \u{1f41d}\u0085\u007f')).toBe(
    'Lids in blue\n\tgrün 蜂蜜 \u{1f41d}',
  );
});

test('a field into which they are pasted is without them, the caret where it was', () => {
  const moved: number[] = [];
  const field = {
    value: 'A\u0002B\u0003C',
    selectionStart: 3,
    setSelectionRange: (from: number, to: number) => void moved.push(from, to),
  };
  keepPlain({ target: field } as unknown as Event);
  expect([field.value, moved]).toEqual(['ABC', [2, 2]]);
  // Nothing is touched that is plain, or no field of text.
  keepPlain({ target: field } as unknown as Event);
  keepPlain({ target: { value: 7 } } as unknown as Event);
  keepPlain({ target: null } as unknown as Event);
  expect(moved).toHaveLength(2);
});
