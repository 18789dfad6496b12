import {
  editItem,
  fieldsOf,
  kindOf,
  parseFieldText,
  requireField,
  sameValue,
  yearDate,
  type Edits,
  type FieldName,
  type FieldValue,
  type Item,
  type ItemId,
} from '$lib/core/items';
import { withoutExtension } from '$lib/core/paths';
import { compareNames } from '$lib/core/identify';
import {
  NOISE_RULES,
  PATTERN_FIELDS,
  parsePattern,
  proposePatterns,
  clashesOf,
  readName,
  type NameReading,
  type NoiseRule,
  type PatternProblem,
  type ProposedPattern,
  type ReadValues,
} from '$lib/core/naming';
import type { Session } from './session.svelte';

/** Names read before the page gets its turn. */
const AT_ONCE = 400;
/** Names that are read once more without each rule of noise. */
const MOST_TRIED = 200;
/** Pattern fields that are no fields of an item. */
const NO_FIELDS = new Set(['kind', 'sourceName', 'sourceFolder', 'place']);
const READABLE_FIELDS = PATTERN_FIELDS.filter((name) => !NO_FIELDS.has(name));

/** What one file's name would say. */
export interface NameRow {
  readonly key: ItemId;
  readonly item: Item;
  readonly reading: NameReading;
  /** The changes; empty if the name has nothing new. */
  readonly edits: Edits;
}

/** Fields from names: a pattern, what every file of the selection would become by it, and taking that. */
export class NamesDesk {
  pattern = $state('');
  proposed = $state.raw<readonly ProposedPattern[]>([]);
  rules = $state.raw<ReadonlySet<NoiseRule>>(new Set(NOISE_RULES));
  rows = $state.raw<readonly NameRow[]>([]);
  /** Of the tried names, those that each noise rule keeps the pattern from reading. */
  clashes = $state.raw<ReadonlyMap<NoiseRule, number>>(new Map());
  /** Rows that the curator included or excluded. */
  private said = $state.raw<ReadonlyMap<ItemId, boolean>>(new Map());
  /** The reading chosen where a name can be read in several ways. */
  private picked = $state.raw<ReadonlyMap<ItemId, number>>(new Map());
  reading = $state(false);

  readonly problem: PatternProblem | null = $derived.by(() => {
    const parsed = parsePattern(this.pattern);
    return parsed.type === 'wrong' ? parsed.problem : null;
  });
  readonly counts = $derived.by(() => {
    const of = (type: NameReading['type']) => this.rows.filter((row) => row.reading.type === type).length;
    return { read: of('read'), ambiguous: of('ambiguous'), failed: of('failed') };
  });
  /** Rows that taking would change. */
  readonly ready: readonly NameRow[] = $derived(this.rows.filter((row) => this.isIn(row)));

  /** The only field to read; null for all in the pattern. */
  private only = $state.raw<FieldName | null>(null);
  /** Fields that a pattern can read. */
  readonly readable = READABLE_FIELDS;

  private items: readonly Item[] = [];
  private turn = 0;

  constructor(private readonly session: Pick<Session, 'library' | 'work'>) {}

  /** Begins with these items: proposes patterns and reads by the best. */
  begin(items: readonly Item[], only: FieldName | null = null): void {
    this.only = only;
    this.items = [...items].sort((a, b) => compareNames(a.path, b.path));
    this.said = new Map();
    this.picked = new Map();
    this.proposed = this.propose();
    if (this.pattern === '' || this.proposed.every(({ text }) => text !== this.pattern))
      this.pattern = this.proposed[0]?.text ?? ':track :title';
    void this.read();
  }

  setPattern(text: string): void {
    this.pattern = text;
    void this.read();
  }

  toggleRule(rule: NoiseRule): void {
    const next = new Set(this.rules);
    if (!next.delete(rule)) next.add(rule);
    this.rules = next;
    this.proposed = this.propose();
    void this.read();
  }

  toggle(row: NameRow): void {
    this.said = new Map(this.said).set(row.key, !this.isIn(row));
  }

  /**
   * Whether accepting would change it. Values typed by hand are only replaced on request, as when one field of some
   * items is read again.
   */
  isIn(row: NameRow): boolean {
    if (Object.keys(row.edits).length === 0) return false;
    return this.said.get(row.key) ?? (this.only !== null || !replacesTyped(row));
  }

  private propose(): readonly ProposedPattern[] {
    const kinds = new Set(this.items.map(kindOf));
    const [kind = null] = kinds;
    return proposePatterns(this.items.map(pathOf), this.rules, kinds.size === 1 ? kind : null);
  }

  /** Chooses one of several readings of a name. */
  pick(row: NameRow, index: number): void {
    this.picked = new Map(this.picked).set(row.key, index);
    this.rows = this.rows.map((one) => (one.key === row.key ? this.toRow(one.item, one.reading) : one));
  }

  pickedOf = ({ key }: NameRow): number => this.picked.get(key) ?? -1;

  /** Takes what the names say for every row that is in, as one act. */
  take(): void {
    const { only } = this;
    const edits = new Map(this.ready.map((row) => [row.key, row.edits]));
    if (edits.size === 0) return;
    const { library, work } = this.session;
    const what = only ? requireField(only).label : 'Facts';
    library.act(`${what} from ${edits.size} names`, library.findAll(edits.keys()), (item) =>
      editItem(item, edits.get(item.id) ?? {}),
    );
    work.say(`${what} taken from ${edits.size} names`);
    this.items = library.findAll(this.items.map(({ id }) => id));
    void this.read();
  }

  private async read(): Promise<void> {
    const turn = ++this.turn;
    const parsed = parsePattern(this.pattern);
    if (parsed.type === 'wrong') return;
    this.reading = true;
    const rows: NameRow[] = [];
    for (const [index, item] of this.items.entries()) {
      rows.push(this.toRow(item, readName(parsed.pattern, pathOf(item), this.rules)));
      if (index % AT_ONCE !== AT_ONCE - 1) continue;
      await new Promise((resolve) => setTimeout(resolve));
      if (turn !== this.turn) return;
    }
    this.rows = rows;
    this.clashes = clashesOf(parsed.pattern, this.items.slice(0, MOST_TRIED).map(pathOf), this.rules);
    this.reading = false;
  }

  private toRow(item: Item, reading: NameReading): NameRow {
    const values =
      reading.type === 'read'
        ? reading.values
        : reading.type === 'ambiguous'
          ? (reading.readings[this.picked.get(item.id) ?? -1]?.values ?? {})
          : {};
    return { key: item.id, item, reading, edits: toEdits(item, values, this.only) };
  }
}

/** Whether a value from its name would replace one that was typed. */
export const replacesTyped = ({ item, edits }: NameRow): boolean =>
  Object.keys(edits).some((name) => item.edits.fields?.[name as FieldName] !== undefined);

const pathOf = ({ path }: Item): string => withoutExtension(path);

/** Values as edits: only those that differ and that the field accepts, of one field or all. */
function toEdits(item: Item, values: ReadValues, only: FieldName | null): Edits {
  const now = fieldsOf(item);
  const edits: Partial<Record<FieldName, FieldValue>> = {};
  for (const [name, value] of Object.entries(values)) {
    if (NO_FIELDS.has(name)) continue;
    const field = name === 'year' ? 'date' : (name as FieldName);
    if (only !== null && field !== only) continue;
    const parsed = parseFieldText(field, name === 'year' ? yearDate(Number(value)) : String(value));
    if (parsed.type !== 'value' || parsed.value === null || sameValue(now[field], parsed.value)) continue;
    // A year is not new if the date has it.
    if (field === 'date' && now.date?.startsWith(String(parsed.value))) continue;
    edits[field] = parsed.value;
  }
  return edits as Edits;
}
