import { fieldText, type FieldName, type Fields } from '../../items';
import { bindingOf, joins, shelfOf } from '../shown/binding';
import type { Outgoing } from '../names/outgoing';
import type { Findings } from './findings';
import { Joining, plainOf, wholeKey } from './joining';
import type { Namer } from '../names/namer';
import { NONE, splitAlbum, type Remark } from './remark';

interface Release {
  readonly key: string;
  readonly members: Set<Outgoing>;
  said: readonly Remark[];
}

/** Reports every release and show that the player's grouping would split, with the edits that join it. */
export class Releases {
  private readonly releases = new Map<string, Release>();
  private readonly touched = new Set<Release>();
  private readonly homes = new Map<Outgoing, Release>();

  constructor(
    private readonly findings: Findings,
    private readonly namer: Namer,
  ) {}

  join(out: Outgoing): void {
    const binding = bindingOf(out.place, out.kind);
    if (!binding) return;
    const key = wholeKey(binding, out, out.item.fields);
    let release = this.releases.get(key);
    if (!release) this.releases.set(key, (release = { key, members: new Set(), said: NONE }));
    release.members.add(out);
    this.homes.set(out, release);
    this.touched.add(release);
  }

  leave(out: Outgoing): void {
    const release = this.homes.get(out);
    if (!release) return;
    this.homes.delete(out);
    release.members.delete(out);
    this.touched.add(release);
  }

  settle(): void {
    for (const release of this.touched) {
      const members = [...release.members].sort((a, b) => a.order - b.order);
      release.said = this.findings.exchange(
        release.said,
        members.length > 1 ? remarksOf(members, this.namer) : NONE,
      );
      if (members.length === 0) this.releases.delete(release.key);
    }
    this.touched.clear();
  }

  /** Remarks about the release of an item. */
  about(out: Outgoing): readonly Remark[] {
    return this.homes.get(out)?.said ?? NONE;
  }
}

function remarksOf(members: readonly Outgoing[], namer: Namer): readonly Remark[] {
  const [first] = members as readonly [Outgoing, ...Outgoing[]];
  const binding = bindingOf(first.place, first.kind);
  if (!binding) return NONE;
  const shelves = new Map<string, Outgoing[]>();
  for (const member of members) {
    const key = shelfOf(binding, member.kind, plainOf(member), member.place, member.path);
    shelves.set(key, [...(shelves.get(key) ?? []), member]);
  }
  if (shelves.size < 2) return NONE;
  const joining = new Joining(binding, [...shelves.values()], namer);
  const { usual, apart } = joining;
  const told = binding.fields
    .map((field) => usual[field] ?? null)
    .filter((value) => value !== null && typeof value !== 'boolean')
    .map(fieldText);
  const name = String(usual[binding.by] ?? first.item.fields[binding.by]);
  const rest = members.length - apart.length;
  return apart.map((out) => {
    const edits = joining.editsFor(out);
    const fields = edits ? (Object.keys(edits) as FieldName[]) : differing(binding.fields, out, usual);
    const found = fields.map((field) => fieldText(plainOf(out)[field]) || 'empty');
    const one = { entry: out.entry, edits, fields, found, isStuck: !joining.isMendable(out) };
    return splitAlbum(name, { groups: shelves.size, rest }, one, told);
  });
}

const differing = (fields: readonly FieldName[], out: Outgoing, usual: Partial<Fields>) =>
  fields.filter((field) => !(field in usual) || !joins(field, plainOf(out), usual));
