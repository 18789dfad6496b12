import type { Fields, ItemId } from '../../items';
import type { Kind } from '../../kinds';
import {
  lengthIn,
  namesIn,
  patternValues,
  requirePattern,
  safeName,
  safeValue,
  shorten,
  sourceNames,
  writePattern,
  type Pattern,
  type PatternField,
} from '../../naming';
import { folderOf } from '../../paths';
import { sidecarFor, type Place, type Rulebook } from '../../rulebooks';
import type { ItemPlan } from '../outgoing/item-plan';

export interface Named {
  /** Below the player's root, with its extension. */
  readonly path: string;
  readonly folder: string;
  /** Unsafe letters were replaced by rule. */
  readonly mended: boolean;
}

/** A pattern with the fields that it uses. */
interface Parsed {
  readonly pattern: Pattern;
  readonly asks: readonly PatternField[];
}

/** The album artist of compilations if a rulebook does not set one. */
const VARIOUS = 'Various Artists';

/** A compilation without an album artist gets one, because its songs would otherwise be in folders of their artists. */
function asOneMaker(fields: Fields, { various }: Place): Fields {
  if (!fields.compilation || fields.albumArtist !== null) return fields;
  return { ...fields, albumArtist: various ?? VARIOUS };
}

/** What is named: an item, and the extension of its copy, without a dot. */
export type Nameable = Pick<ItemPlan, 'item' | 'extension'>;

/** A name, and the conditions that it was made for. */
interface Made {
  readonly named: Named;
  readonly short: boolean;
  readonly ending: string;
  readonly rank: string | null;
}

/** Names items for one rulebook. Patterns are parsed once, and folder names of albums are made safe once. */
export class Namer {
  private readonly patterns = new Map<Place, Parsed>();
  private readonly safe = new Map<string, string>();
  /** Folder names, which are the same for each song of an album. */
  private readonly folders = new Map<string, string>();
  private readonly made = new WeakMap<ItemPlan, Made>();

  /** @param rankOf the position of an item in the player's lists, as it is used in names; null if it is in none */
  constructor(
    private readonly rulebook: Rulebook,
    private readonly rankOf: (item: ItemId) => string | null = () => null,
  ) {}

  /** The name of an item before other items and the player are considered. Made once. */
  of(known: ItemPlan, kind: Kind, place: Place, short: boolean, ending: string): Named {
    const before = this.made.get(known);
    const rank = this.rankOf(known.item.id);
    if (before?.short === short && before.ending === ending && before.rank === rank) return before.named;
    const named = this.path(known, kind, place, short, ending);
    this.made.set(known, { named, short, ending, rank });
    return named;
  }

  /** @param ending added to its name because another item has the same */
  path({ item, extension: dotless }: Nameable, kind: Kind, place: Place, short: boolean, ending = ''): Named {
    const names = this.rulebook.disk;
    let mended = false;
    const { pattern, asks } = this.pattern(place);
    const fields = asOneMaker(item.fields, place);
    const values = {
      ...patternValues(fields, item.kind, sourceNames(item.path), item, asks),
      place: this.rankOf(item.id),
    };
    const { parts } = writePattern(pattern, values, {
      numberWidth: names.numberWidth,
      safeValue: (text) => {
        const safe = this.value(text);
        if (safe !== text) mended = true;
        return safe;
      },
    });
    const extension = `.${dotless}`;
    const beside = sidecarFor(this.rulebook, kind)?.extension ?? '';
    const longest = beside.length + 1 > extension.length ? `.${beside}` : extension;
    const end = ending === '' ? '' : ` ${this.value(ending.trim())}`;
    const named = parts.map((part, index) => {
      const isLast = index === parts.length - 1;
      const isAlike = place.alike && index === parts.length - 2;
      const name = isLast || isAlike ? safeName(part + end, names) : this.folder(part);
      if (name !== part && end === '') mended = true;
      const suffix = index === parts.length - 1 || place.alike ? longest : '';
      const limit = Math.min(names.maxName - lengthIn(suffix, names.unit), names.maxStem ?? Infinity);
      if (!short || lengthIn(name, names.unit) <= limit) return name;
      if (!isLast && !isAlike) return shorten(name, limit, names);
      // The text that distinguishes it from another item is kept.
      return safeName(shorten(part, limit - lengthIn(end, names.unit), names) + end, names);
    });
    const path = [place.folder, ...named].filter(Boolean).join('/') + extension;
    return { path, folder: folderOf(path), mended };
  }

  private pattern(place: Place): Parsed {
    const known = this.patterns.get(place);
    if (known) return known;
    const pattern = requirePattern(place.pattern);
    const parsed = { pattern, asks: namesIn(pattern) };
    this.patterns.set(place, parsed);
    return parsed;
  }

  private folder(part: string): string {
    let name = this.folders.get(part);
    if (name === undefined) this.folders.set(part, (name = safeName(part, this.rulebook.disk)));
    return name;
  }

  private value(text: string): string {
    const known = this.safe.get(text);
    if (known !== undefined) return known;
    const safe = safeValue(text, this.rulebook.disk);
    this.safe.set(text, safe);
    return safe;
  }
}
