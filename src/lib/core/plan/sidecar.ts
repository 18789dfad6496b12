import { XMLBuilder, XMLParser } from 'fast-xml-parser';
import type { FieldName, Fields } from '../items';
import type { Section } from '../rulebooks';

type SidecarRules = NonNullable<Section['sidecar']>;

/** Letters that XML 1.0 does not allow even as references (section 2.2). */
const NO_XML = new RegExp(
  '[\\u0000-\\u0008\\u000b\\u000c\\u000e-\\u001f\\ufffe\\uffff]' +
    '|[\\ud800-\\udbff](?![\\udc00-\\udfff])|(?<![\\ud800-\\udbff])[\\udc00-\\udfff]',
  'g',
);

const builder = new XMLBuilder({
  format: true,
  indentBy: '  ',
  ignoreAttributes: false,
  suppressEmptyNode: true,
});
const parser = new XMLParser({
  ignoreAttributes: true,
  parseTagValue: false,
  trimValues: true,
  processEntities: true,
});

/** Length as sidecars state it: whole minutes, half a minute rounded up, at least 1. */
export function runtimeMinutes(durationSeconds: number): number {
  return Math.max(1, Math.round(durationSeconds / 60));
}

/** The text of a sidecar: UTF-8 XML with one element for each field that has a value. */
export function writeSidecar(rules: SidecarRules, fields: Fields, durationSeconds: number | null): string {
  const elements: Record<string, string> = {};
  for (const { name, from } of rules.elements) {
    const value = from === 'runtime' ? durationSeconds && runtimeMinutes(durationSeconds) : fields[from];
    if (value !== null && value !== 0) elements[name] = String(value).replace(NO_XML, '');
  }
  return `<?xml version="1.0" encoding="UTF-8"?>\n${builder.build({ [rules.root]: elements })}`;
}

/** What a player reads in a sidecar's text: element texts by field, or null when it is not of this dialect. */
export function readSidecar(
  rules: SidecarRules,
  text: string,
): Partial<Record<FieldName | 'runtime', string>> | null {
  let root: unknown;
  try {
    root = (parser.parse(text, true) as Record<string, unknown>)[rules.root];
  } catch {
    return null;
  }
  if (root === undefined || typeof root !== 'object') return null;
  const elements = root as Record<string, unknown>;
  const read: Partial<Record<FieldName | 'runtime', string>> = {};
  for (const { name, from } of rules.elements) {
    const value = elements[name];
    if (typeof value === 'string' && value !== '') read[from] = value;
  }
  return read;
}
