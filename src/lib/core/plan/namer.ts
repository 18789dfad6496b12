import type { Kind } from '../kinds';
import {
  lengthIn,
  patternValues,
  requirePattern,
  resolutionOf,
  safeName,
  safeValue,
  shorten,
  writePattern,
  type Pattern,
} from '../naming';
import { folderOf, stemOf } from '../paths';
import { sidecarFor, type Place, type Rulebook } from '../rulebooks';
import type { PlanItem } from './plan-item';

export interface Named {
  /** Below the player's root, extension included. */
  readonly path: string;
  readonly folder: string;
  /** Unsafe letters were mended by rule. */
  readonly mended: boolean;
}

/** Names items for one rulebook. Patterns are parsed once, and folder names of albums are made safe once. */
export class Namer {
  private readonly patterns = new Map<Place, Pattern>();
  private readonly safe = new Map<string, string>();

  constructor(private readonly rulebook: Rulebook) {}

  /** @param ending is put behind its name, since another item has the same */
  path(item: PlanItem, kind: Kind, place: Place, short: boolean, ending = ''): Named {
    const names = this.rulebook.disk;
    let mended = false;
    const { parts } = writePattern(
      this.pattern(place),
      patternValues(item.fields, item.kind, stemOf(item.path), resolutionOf(item.streams)),
      {
        numberWidth: names.numberWidth,
        safeValue: (text) => {
          const safe = this.value(text);
          if (safe !== text) mended = true;
          return safe;
        },
      },
    );
    const extension = `.${item.recipe.extension}`;
    const beside = sidecarFor(this.rulebook, kind)?.extension ?? '';
    const longest = beside.length + 1 > extension.length ? `.${beside}` : extension;
    const end = ending === '' ? '' : ` ${this.value(ending.trim())}`;
    const named = parts.map((part, index) => {
      const isLast = index === parts.length - 1;
      const isAlike = place.alike && index === parts.length - 2;
      const name = safeName(isLast || isAlike ? part + end : part, names);
      if (name !== part && end === '') mended = true;
      const suffix = index === parts.length - 1 || place.alike ? longest : '';
      if (!short || lengthIn(name + suffix, names.unit) <= names.maxName) return name;
      return shorten(name, names.maxName - lengthIn(suffix, names.unit), names);
    });
    const path = [place.folder, ...named].filter(Boolean).join('/') + extension;
    return { path, folder: folderOf(path), mended };
  }

  private pattern(place: Place): Pattern {
    const known = this.patterns.get(place);
    if (known) return known;
    const parsed = requirePattern(place.pattern);
    this.patterns.set(place, parsed);
    return parsed;
  }

  private value(text: string): string {
    const known = this.safe.get(text);
    if (known !== undefined) return known;
    const safe = safeValue(text, this.rulebook.disk);
    this.safe.set(text, safe);
    return safe;
  }
}
