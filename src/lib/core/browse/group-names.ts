import {
  FORMAT_NAMES,
  fieldsOf,
  homeOf,
  kindOf,
  makerOf,
  releaseKey,
  titleOf,
  yearDate,
  yearOf,
  type Arrival,
  type Item,
} from '../items';
import { KINDS, KIND_FACTS } from '../kinds';
import { folderOf } from '../paths';
import { LEVELS, type Level } from './rows';

/** The name of a group. Items with the same value share one object, so that finding their group creates no strings. */
export interface GroupName {
  /** The sort key, which is also the identity of the group within its level. */
  readonly sort: string;
  readonly label: string;
  /** A second word for it, such as the maker of a release. */
  readonly note: string;
  /** A list of only this name, shared by all items with a single value. */
  readonly alone: readonly GroupName[];
}

/** An item, with the names that were computed before. */
interface Named {
  readonly item: Item;
  /** By the place of a level in `LEVELS`. */
  readonly names: (readonly GroupName[] | undefined)[];
}

/** Sorts after everything else. */
const LAST = '\uffff';

/** What distinguishes a release from others of its name: its edition and folder. */
export function releaseWords(item: Item): string {
  return [fieldsOf(item).edition, homeOf(item.path) || 'no folder'].filter(Boolean).join(', ');
}

/** The names of the groups that items belong to, on each level. */
export class GroupNames {
  private readonly levels: readonly Map<string, GroupName>[] = LEVELS.map(() => new Map());
  private arrivals: ReadonlyMap<string, Arrival> = new Map();

  /** Sets the known arrivals, whose labels name groups. */
  know(arrivals: readonly Arrival[]): void {
    this.arrivals = new Map(arrivals.map((arrival) => [arrival.id, arrival]));
    this.levels[LEVELS.indexOf('arrival')]?.clear();
  }

  /** The groups of an item on a level: several if its field has several values. */
  of(entry: Named, level: Level): readonly GroupName[] {
    // Not remembered, because an arrival can become known after its items.
    if (level === 'arrival') return this.ofArrival(entry.item);
    const place = LEVELS.indexOf(level);
    return (entry.names[place] ??= this.namesOf(entry.item, level, place));
  }

  private ofArrival({ arrival: id }: Item): readonly GroupName[] {
    const names = this.levels[LEVELS.indexOf('arrival')] as Map<string, GroupName>;
    let name = names.get(id);
    if (!name) {
      const arrival = this.arrivals.get(id);
      // Newest first.
      name = newName(String(1e15 - (arrival?.at ?? 0)) + id, arrival?.label ?? '', '');
      names.set(id, name);
    }
    return name.alone;
  }

  private namesOf(item: Item, level: Level, place: number): readonly GroupName[] {
    const fields = fieldsOf(item);
    const name = (sort: string, label: string, note = '') => this.name(place, sort, label, note).alone;
    const texts = (values: readonly string[] | null, empty: string): readonly GroupName[] => {
      if (!values?.length) return name(LAST, empty);
      const first = this.name(place, (values[0] as string).toLowerCase(), values[0] as string, '');
      if (values.length === 1) return first.alone;
      // Two spellings of one value are one group, named after the first.
      const bySort = new Map<string, GroupName>();
      for (const value of values) {
        const sort = value.toLowerCase();
        if (!bySort.has(sort)) bySort.set(sort, this.name(place, sort, value, ''));
      }
      return [...bySort.values()];
    };
    switch (level) {
      case 'arrival':
        return this.ofArrival(item);
      case 'release': {
        const key = releaseKey(item.path, fields);
        if (key === null) return name(LAST, 'No album');
        const album = fields.album?.trim() ?? '';
        return name(`${album.toLowerCase()}\n${key}`, album, makerOf(fields, 'various') ?? '');
      }
      case 'kind': {
        const kind = kindOf(item);
        return name(
          kind ? String(KINDS.indexOf(kind)).padStart(2, '0') : LAST,
          kind ? KIND_FACTS[kind].many : 'open',
        );
      }
      case 'folder':
        return name(folderOf(item.path), folderOf(item.path) || 'no folder');
      case 'artist':
        return texts(fields.artist, 'Unknown artist');
      case 'albumArtist':
        return texts(fields.albumArtist === null ? null : [fields.albumArtist], 'Unknown album artist');
      case 'genre':
        return texts(fields.genre, 'Unknown genre');
      case 'composer':
        return texts(fields.composer, 'Unknown composer');
      case 'year': {
        const year = yearOf(fields);
        return year === null ? name(LAST, 'Unknown year') : name(yearDate(year), String(year));
      }
      case 'decade': {
        const year = yearOf(fields);
        if (year === null) return name(LAST, 'Unknown decade');
        const first = year - (year % 10);
        return name(yearDate(first), `${first}s`);
      }
      case 'format':
        return name(FORMAT_NAMES[item.format], FORMAT_NAMES[item.format]);
      case 'none':
        return name('', titleOf(item));
    }
  }

  private name(place: number, sort: string, label: string, note: string): GroupName {
    const names = this.levels[place] as Map<string, GroupName>;
    // Items of one group can spell its name in several ways. The first item names it.
    const own = `${sort}\n${label}\n${note}`;
    let name = names.get(own);
    if (!name) names.set(own, (name = newName(sort, label, note)));
    return name;
  }
}

function newName(sort: string, label: string, note: string): GroupName {
  const alone: GroupName[] = [];
  const name = { sort, label, note, alone };
  alone.push(name);
  return name;
}
