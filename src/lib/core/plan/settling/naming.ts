import type { Kind } from '../../kinds';
import { nameOf } from '../../paths';
import { sidecarFor, sidecarPath } from '../../rulebooks';
import type { Entry } from '../entry';
import { proposed } from '../findings/proposals';
import * as say from '../findings/remark';
import type { Remark } from '../findings/remark';
import type { Named } from '../names/namer';
import { tooLong } from '../names/too-long';
import type { ItemPlan } from '../outgoing/item-plan';
import type { PlanState } from './state';

/** Names items by the rulebook and claims their paths. */
export class Naming {
  constructor(private readonly state: PlanState) {}

  /** Gives an item its name, or records what has to be resolved first. */
  name(entry: Entry): void {
    const said: Remark[] = [];
    const before = entry.named?.folder ?? null;
    const isAway = this.hearPlayer(entry, said);
    entry.named = isAway ? null : this.namedBy(entry, said);
    this.state.say(entry, 'name', said);
    this.state.parts.spelling?.move(entry, before, entry.named?.folder || null);
  }

  /**
   * Applies changes that were made to its file on the player.
   * @returns whether it must not be on the player: it was removed or left out here, or removed there with effect
   */
  private hearPlayer(entry: Entry, said: Remark[]): boolean {
    const { world } = this.state.parts;
    const { id, known } = entry;
    const isOut = entry.gone || this.state.leftOut.has(id) || !this.state.isSelected(known.item);
    const wanted =
      isOut || (known.item.kind !== null && !known.place)
        ? null
        : { signature: known.signature, fields: known.copyFields };
    entry.waits = entry.says = null;
    entry.keptAt = wanted && world.there.keptAt(id);
    let isRemoved = false;
    for (const drift of world.there.driftsOf.get(id) ?? []) {
      const side = world.settleDrift(drift, wanted);
      if (side === 'here' || !wanted || !drift.placed || !world.there.isMedia(drift.placed)) continue;
      if (side === 'open') entry.waits = drift;
      else if (drift.type === 'changed') entry.says = drift.file?.says ?? null;
      else if (drift.type === 'removed') isRemoved = true;
      if (drift.type === 'moved') entry.keptAt = drift.file?.path ?? null;
    }
    const away = wanted && world.there.away.get(id);
    if (away) said.push(say.staysAway(entry, away));
    return isOut || isRemoved || Boolean(away);
  }

  private namedBy(entry: Entry, said: Remark[]): Named | null {
    const { known, keptAt } = entry;
    const kind = this.kindAt(known, entry, said);
    const { place } = known;
    if (kind === null || !place) return null;
    const lacks = known.missing.map(({ field, severity }) => {
      return { field, severity, proposal: proposed(entry, field, this.state.parts.neighbours) };
    });
    said.push(...say.missingFields(entry, lacks));
    if (known.missing.some(({ severity }) => severity === 'blocks')) return null;
    if (keptAt !== null) return { path: keptAt, folder: '', mended: false };
    const suffix = this.state.suffixes.get(entry.id) ?? '';
    return this.state.namer.of(known, kind, place, this.state.short.has(entry.id), suffix);
  }

  /** The kind under which an item has a place on the player; null, with a remark, if it has none. */
  private kindAt({ item, place, refusal, twin }: ItemPlan, entry: Entry, said: Remark[]): Kind | null {
    const { kind } = item;
    if (kind === null) said.push(say.kindOpen(entry));
    else if (!place) said.push(say.noSection(entry));
    else if (refusal !== null) said.push(say.formatRefused(entry, refusal, twin));
    else return kind;
    return null;
  }

  /** Its path, spelled as its folders are, and its claim on that path. */
  claim(entry: Entry): void {
    const { named, known, candidate } = entry;
    const said: Remark[] = [];
    entry.candidate = null;
    if (named && known.place && known.item.kind) {
      const folder = this.state.parts.spelling?.of(entry) ?? named.folder;
      const path = folder === named.folder ? named.path : `${folder}/${nameOf(named.path)}`;
      const long = this.tooLong(entry, path, known.item.kind);
      if (long) said.push(long);
      else {
        entry.candidate = candidate;
        entry.candidate = entry.at(path, known.item.kind, known.place, named.mended, this.state.keys);
      }
    }
    this.state.say(entry, 'length', said);
    this.state.parts.claims.move(entry, candidate?.takes ?? null, entry.candidate?.takes ?? null);
    this.state.parts.stems.move(entry, candidate?.stem ?? null, entry.candidate?.stem ?? null);
    this.state.parts.shown.move(entry, this.state.shownAs(candidate), this.state.shownAs(entry.candidate));
  }

  /** A remark if its path, or that of a file beside it, is too long. */
  private tooLong(entry: Entry, path: string, kind: Kind): Remark | null {
    const rules = sidecarFor(this.state.rulebook, kind);
    for (const one of rules ? [path, sidecarPath(path, rules)] : [path]) {
      const found = tooLong(one, this.state.rulebook);
      if (found) return say.tooLong(entry, one, found, 'blocks');
    }
    return null;
  }
}
