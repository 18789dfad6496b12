import { FIELDS } from '../../items';
import type { Kind } from '../../kinds';
import { folderOf, stemOf } from '../../paths';
import { picturesFor, roleOf, sidecarFor, sidecarPath, type SidecarRules } from '../../rulebooks';
import type { Entry, EntryRemarks, HeldBy } from '../entry';
import * as say from '../findings/remark';
import { NONE, type Remark } from '../findings/remark';
import type { Outgoing } from '../names/outgoing';
import type { Recipe } from '../outgoing/recipe';
import { writeSidecar } from '../shown/sidecar';
import { copyOf, textBeside, type Want } from '../steps/want';
import type { PlanState } from './state';

const NUMBERS = FIELDS.filter(({ type }) => type === 'number');

/** Places items at their paths, with the files beside them, or holds them back. */
export class Placing {
  constructor(private readonly state: PlanState) {}

  /** Counts it in its folder if it gets its name. */
  fill(entry: Entry): void {
    const { candidate } = entry;
    const { claims, folders, world } = this.state.parts;
    if (!candidate || claims.holder(candidate.takes) !== entry) return folders.take(entry);
    const { kind, folder, path } = candidate;
    const shared = picturesFor(this.state.rulebook, kind).filter(({ of }) => of === 'folder').length;
    const isThere = world.hasAny(entry.id);
    const key = this.state.keys.of(folder);
    folders.put(entry, { key, path, files: this.filesOf(kind), isThere, shared });
  }

  /** Whether it is new on the player and depends on free space. */
  offer(entry: Entry): boolean {
    const { candidate } = entry;
    const { room, world, claims } = this.state.parts;
    const comes =
      candidate !== null &&
      claims.holder(candidate.takes) === entry &&
      !world.hasAny(entry.id) &&
      this.barred(entry, candidate).length === 0;
    if (comes) room.put(entry, candidate.kind, this.filesOf(candidate.kind));
    else room.take(entry);
    return comes;
  }

  /** Decides whether it is copied to its path, and makes the remarks about that. */
  place(entry: Entry): void {
    const { candidate } = entry;
    const holder = candidate && this.state.parts.claims.holder(candidate.takes);
    const wins = holder === entry;
    this.state.say(entry, 'claim', candidate && holder ? this.besides(entry, holder, candidate) : NONE);
    const barred = candidate && wins ? this.barred(entry, candidate) : NONE;
    const isOut = candidate !== null && this.offer(entry) && this.state.parts.room.out.has(entry);
    if (barred.length > 0) this.state.barredItems.add(entry);
    else this.state.barredItems.delete(entry);
    this.state.say(entry, 'place', isOut ? [say.noRoom(entry, candidate.path)] : barred);
    const out = wins && barred.length === 0 && !isOut ? candidate : null;
    if (out !== entry.out) this.put(entry, out);
    this.hold(entry);
  }

  /** Remarks about another item with the same name, or the same name with another extension. */
  private besides(entry: Entry, holder: Entry, { path, stem }: Outgoing): readonly Remark[] {
    if (holder !== entry) return [say.sameName(entry, holder, path)];
    const first = stem === null ? entry : this.state.parts.stems.holder(stem);
    const shownAs = this.state.shownAs(entry.candidate);
    const isShownAlike = shownAs !== null && this.state.parts.shown.holder(shownAs) !== entry;
    return [
      ...(first && first !== entry ? say.besideEdition(entry, first) : NONE),
      ...(this.state.parts.folders.late.has(entry) ? [say.writtenLate(entry, path)] : NONE),
      ...(isShownAlike ? [say.shownAlike(entry, path, this.state.rulebook.disk.shownLetters ?? 0)] : NONE),
    ];
  }

  /** Remarks about files that occupy the path of its copy or sidecar. */
  private barred(entry: Entry, { kind, path }: Outgoing): readonly Remark[] {
    const { world, folders } = this.state.parts;
    if (entry.waits) return [say.waits(entry, entry.waits)];
    if (folders.out.has(entry))
      return [say.folderFull(entry, path, this.state.rulebook.disk.filesInFolder ?? 0)];
    const rules = sidecarFor(this.state.rulebook, kind);
    const own = world.inTheWay(path, entry, 'blocks');
    if (own) return [own];
    const beside = rules && world.inTheWay(sidecarPath(path, rules), entry, 'blocks');
    return beside ? [beside] : NONE;
  }

  private put(entry: Entry, out: Outgoing | null): void {
    const { releases, pictures, lists, world, shelves, lengths } = this.state.parts;
    const before = entry.out;
    if (before) {
      releases.leave(before);
      pictures.leave(before);
      lists.leave(before);
      lengths.take(before);
      shelves.take(before.file);
      for (const want of world.wantedOf(entry.id)) world.unwant(want);
    }
    entry.out = out;
    if (out) {
      releases.join(out);
      pictures.join(out);
      lists.join(out);
      lengths.put(out);
      shelves.put(out.file);
      for (const want of this.wantedFor(out)) world.want(want);
    }
    this.state.say(entry, 'notes', out ? this.notesOn(entry, out) : NONE);
  }

  /** The copy of an item, and the files beside it. */
  wantedFor(out: Outgoing): readonly Want[] {
    const copy = copyOf(out, this.state.keys);
    const rules = sidecarFor(this.state.rulebook, out.kind);
    return rules ? [copy, this.sidecar(out, rules)] : [copy];
  }

  private sidecar(out: Outgoing, rules: SidecarRules): Want {
    const text = writeSidecar(rules, out.item.fields, out.item.durationSeconds, out.item);
    return textBeside(out, sidecarPath(out.path, rules), rules.mime, text, this.state.keys);
  }

  private notesOn(entry: Entry, { item, kind, path, mended }: Outgoing): readonly Remark[] {
    const notes: Remark[] = [];
    const failed = this.state.parts.failed.get(this.state.keys.of(path));
    if (failed) notes.push(say.failedBefore(entry, failed));
    const kept = this.state.parts.world.there.keptFile(entry.id);
    if (kept) notes.push(say.keptThere(entry, kept));
    if (mended) notes.push(say.nameMended(entry, path));
    if (!item.settled && item.certainty !== 'sure' && item.kind) notes.push(say.kindGuess(entry, item.kind));
    if (!item.writable) notes.push(say.cannotWrite(entry));
    const { picture } = item;
    // Podcast players show the picture in the tags, whatever files the rulebook asks for.
    if (kind === 'podcast' && picture && picture.width !== picture.height)
      notes.push(say.pictureShape(entry, picture, folderOf(path), null));
    for (const part of item.unheld) notes.push(say.cannotHold(entry, part));
    for (const { name, limit } of NUMBERS) {
      const value = item.fields[name];
      if (typeof value === 'number' && value > limit) notes.push(say.oddValue(entry, name, value));
    }
    const { tags } = this.state.rulebook;
    const version = item.tagFormats.map((sort) => /^ID3v2\.([234])/.exec(sort)).find(Boolean);
    if (version && !isBroughtTo(entry.known.recipe) && !tags.id3.includes(Number(version[1]) as 3))
      notes.push(say.tagVersion(entry, version[0]));
    const rules = sidecarFor(this.state.rulebook, kind);
    const old = rules && item.beside.find((beside) => roleOf(this.state.rulebook, beside) === 'sidecar');
    if (old && stemOf(old) !== stemOf(path)) notes.push(say.besideMismatch(entry, old, path));
    return notes;
  }

  private hold(entry: Entry): void {
    const { id, out, said } = entry;
    const blocks = [said.name, said.length, said.claim].some((remarks) =>
      remarks.some(({ severity, code }) => severity === 'blocks' || code === 'needsTwin'),
    );
    const held = out === null && (blocks || said.place.length > 0);
    if (held) this.state.held.set(id, heldBy(said));
    else this.state.held.delete(id);
    if (held === entry.held) return;
    entry.held = held;
    this.state.parts.world.holdChanged(id, held);
  }

  /** The number of files that are written for an item of a kind. */
  private filesOf(kind: Kind): number {
    return sidecarFor(this.state.rulebook, kind) ? 2 : 1;
  }
}

/** Whether the copy's tag is converted to another version that the player reads. */
const isBroughtTo = (recipe: Recipe): boolean => recipe.type !== 'asIs' && recipe.id3 !== null;

/** Why an item is held back: a blocking finding, a missing twin, or no room. */
function heldBy({ name, length, claim, place }: EntryRemarks): HeldBy {
  const all = [...name, ...length, ...claim, ...place];
  if (all.every(({ code, severity }) => code === 'noRoom' || severity === 'note')) return 'room';
  return all.some(({ severity }) => severity === 'blocks') || place.length > 0 ? 'finding' : 'twin';
}
