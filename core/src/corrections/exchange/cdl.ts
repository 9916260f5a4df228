import { XMLBuilder, XMLParser, XMLValidator } from 'fast-xml-parser';
import { plainText } from '../../findings/plain-text.ts';
import type { ColourValue, FieldValues } from '../../fields/field.ts';
import { neutralValues } from '../../fields/values.ts';
import { slopeOffsetPower } from '../slope-offset-power.ts';
import { ExchangeError, type Exchange, type Exchanged } from './exchange.ts';

/** The namespace that ASC CDL 1.2 names. */
const NAMESPACE = 'urn:ASC:CDL:v1.2';
const ROOTS = ['ColorCorrectionCollection', 'ColorDecisionList', 'ColorCorrection'] as const;

type Node = Record<string, unknown>;
const parser = new XMLParser({ ignoreAttributes: false, parseTagValue: false, removeNSPrefix: true });
const builder = new XMLBuilder({ ignoreAttributes: false, format: true, indentBy: '  ' });

const listOf = (v: unknown): Node[] => (Array.isArray(v) ? v : v === undefined ? [] : [v]) as Node[];
const child = (node: Node, ...names: string[]): Node =>
  (names.map((n) => node[n]).find((v) => v !== undefined && v !== '') ?? {}) as Node;

/** Numbers in a text; those of a missing one are neutral. */
function numbers(text: unknown, count: number, what: string, neutral: readonly number[]): readonly number[] {
  if (text === undefined) return neutral;
  const found = String(text as string)
    .trim()
    .split(/\s+/)
    .map(Number);
  if (found.length !== count || !found.every(Number.isFinite))
    throw new ExchangeError(`Its ${what} should be ${count === 1 ? 'a number' : 'three numbers'}.`);
  return found;
}

function readOne(node: Node, at: number): Exchanged {
  // Old files write SATNode.
  const [sop, sat] = [child(node, 'SOPNode'), child(node, 'SatNode', 'SATNode')];
  const id = node['@_id'];
  const told = typeof id === 'string' && id ? id : `Correction ${at + 1}`;
  // One correction has one of each: which of several is meant nobody can know.
  for (const [name, part] of Object.entries({ SOPNode: sop, SatNode: sat }))
    if (Array.isArray(part))
      throw new ExchangeError(`“${told}” has several ${name}. Leave one of them in the file.`);
  const values: Record<string, ColourValue | number> = {};
  for (const f of slopeOffsetPower.fields) {
    const name = f.label;
    if (f.kind === 'rgb') {
      const v = numbers(sop[name], 3, name.toLowerCase(), f.neutral);
      const [r, g, b] = v.map((x) => Math.min(f.max, Math.max(f.min, x)));
      values[f.key] = [r!, g!, b!];
    } else if (f.kind === 'number') {
      const [v] = numbers(sat[name], 1, name.toLowerCase(), [f.neutral]);
      values[f.key] = Math.min(f.max, Math.max(f.min, v!));
    }
  }
  return { name: told, values };
}

/** Corrections of the ASC Color Decision List, version 1.2: collections (`.ccc`) and decision lists (`.cdl`). */
export const cdl: Exchange = {
  kind: slopeOffsetPower.kind,
  label: 'ASC CDL',
  endings: ['.ccc', '.cdl'],
  read(text) {
    const fault = XMLValidator.validate(text);
    if (fault !== true)
      throw new ExchangeError(`It is no XML file: ${fault.err.msg} (line ${fault.err.line}).`);
    const document = parser.parse(text) as Node;
    const root = ROOTS.find((name) => document[name] !== undefined);
    if (!root)
      throw new ExchangeError('It holds no ASC CDL: there is no collection, list or correction in it.');
    const node = document[root] as Node;
    const nodes =
      root === 'ColorCorrection'
        ? [node]
        : root === 'ColorDecisionList'
          ? listOf(node['ColorDecision']).flatMap((d) => listOf(d['ColorCorrection']))
          : listOf(node['ColorCorrection']);
    if (nodes.length === 0) throw new ExchangeError('There is no correction in it.');
    return nodes.map(readOne);
  },
  write(items, ending) {
    const used = new Set<string>();
    const corrections = items.map(({ name, values }) => {
      // Ids are unique, and begin with a letter.
      const plain = name.replace(/[^A-Za-z0-9._-]+/g, '_').replace(/^(?![A-Za-z_])/, '_') || '_';
      let id = plain;
      for (let n = 2; used.has(id); n++) id = `${plain}_${n}`;
      used.add(id);
      const whole: FieldValues = { ...neutralValues(slopeOffsetPower.fields), ...values };
      const three = (key: string) => (whole[key] as ColourValue).join(' ');
      return {
        '@_id': id,
        SOPNode: {
          // The client's words, as they are.
          Description: plainText(name),
          Slope: three('slope'),
          Offset: three('offset'),
          Power: three('power'),
        },
        SatNode: { Saturation: String(whole['saturation'] as number) },
      };
    });
    const own = { '@_xmlns': NAMESPACE };
    const document =
      ending === '.cdl'
        ? {
            ColorDecisionList: { ...own, ColorDecision: corrections.map((c) => ({ ColorCorrection: c })) },
          }
        : { ColorCorrectionCollection: { ...own, ColorCorrection: corrections } };
    return `<?xml version="1.0" encoding="UTF-8"?>\n${builder.build(document)}`;
  },
};
