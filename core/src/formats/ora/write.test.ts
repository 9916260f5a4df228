import { execFileSync } from 'node:child_process';
import { unzipSync } from 'fflate';
import { escape } from '../../parcels/report/escape.ts';
import { writeOra } from './write.ts';

const names = (xml: Uint8Array | string) =>
  execFileSync(
    'python3',
    [
      '-c',
      'import sys, xml.etree.ElementTree as e; print([d.get("name") for d in e.parse(sys.stdin).iter() if d.get("name")])',
    ],
    { input: xml, encoding: 'utf8' },
  ).trim();

test('names that XML cannot hold are those that can be read of them', () => {
  const png = new Uint8Array(0);
  const layer = { name: 'Wärmer\u0000, "bitte"\uFFFF\uD800', png, x: 0, y: 0 };
  const bytes = writeOra({ width: 4, height: 3 }, [{ name: 'On the\u0001 table', layers: [layer] }], {
    merged: png,
    thumbnail: png,
  });
  expect(names(unzipSync(bytes)['stack.xml']!)).toBe(`['On the table', 'Wärmer�, "bitte"�']`);
  expect(names(`<a name="${escape('A & \u0008B <c>\u0085')}"/>`)).toBe(`['A & B <c>']`);
});
