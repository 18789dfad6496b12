import { XMLBuilder, XMLParser } from 'fast-xml-parser';
import { plainXml } from '../../xml';
import {
  EMPTY_FIELDS,
  fieldText,
  parseFieldText,
  yearDate,
  yearOf,
  type FieldName,
  type Fields,
  type FieldValue,
} from '../../items';
import { MADE_OF, madeOf, type MadeFile, type MadeOf } from '../../naming';
import type { SidecarRules, SidecarSource } from '../../rulebooks';

// Made when first needed, so that the page, which neither writes nor reads sidecars, does not load the package.
let builder: XMLBuilder | null = null;
let parser: XMLParser | null = null;

const xmlBuilder = (): XMLBuilder =>
  (builder ??= new XMLBuilder({
    format: true,
    indentBy: '  ',
    ignoreAttributes: false,
    suppressEmptyNode: true,
  }));

const xmlParser = (): XMLParser =>
  (parser ??= new XMLParser({
    ignoreAttributes: true,
    parseTagValue: false,
    trimValues: true,
    processEntities: true,
  }));

/** Length in sidecars: whole minutes, half a minute rounded up, at least 1. */
export function runtimeMinutes(durationSeconds: number): number {
  return Math.max(1, Math.round(durationSeconds / 60));
}

/** The text of a sidecar: UTF-8 XML with one element for each field that has a value. */
export function writeSidecar(
  rules: SidecarRules,
  fields: Fields,
  durationSeconds: number | null,
  made: MadeFile | null = null,
): string {
  const elements: Record<string, string> = {};
  for (const { name, from } of rules.elements) {
    const text = textFrom(from, fields, durationSeconds, made);
    if (text !== '') elements[name] = plainXml(text);
  }
  return `<?xml version="1.0" encoding="UTF-8"?>\n${xmlBuilder().build({ [rules.root]: elements })}`;
}

function textFrom(
  from: SidecarSource,
  fields: Fields,
  durationSeconds: number | null,
  made: MadeFile | null,
): string {
  if (isMade(from)) return (made && madeOf(made, from)) ?? '';
  if (from === 'runtime') return durationSeconds ? String(runtimeMinutes(durationSeconds)) : '';
  if (from === 'year') return String(yearOf(fields) ?? '');
  const value = fields[from];
  return typeof value === 'object' ? (value?.join('; ') ?? '') : fieldText(value);
}

const isMade = (from: SidecarSource): from is keyof MadeOf => MADE_OF.some((name) => name === from);

/** The fields that a player reads from a sidecar; null if the sidecar is not in this dialect. */
export function readSidecar(rules: SidecarRules, text: string): Fields | null {
  let root: unknown;
  try {
    root = (xmlParser().parse(text, true) as Record<string, unknown>)[rules.root];
  } catch {
    return null;
  }
  if (root === undefined || typeof root !== 'object') return null;
  const elements = root as Record<string, unknown>;
  const read: Partial<Record<FieldName, FieldValue>> = {};
  for (const { name, from } of rules.elements) {
    const value = elements[name];
    if (typeof value !== 'string' || from === 'runtime' || isMade(from)) continue;
    const field = from === 'year' ? 'date' : from;
    const parsed = parseFieldText(
      field,
      from === 'year' && /^\d+$/.test(value) ? yearDate(Number(value)) : value,
    );
    if (parsed.type === 'value' && parsed.value !== null) read[field] ??= parsed.value;
  }
  return { ...EMPTY_FIELDS, ...(read as Partial<Fields>) };
}
