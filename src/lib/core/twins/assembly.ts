import {
  chaptersOf,
  fieldsOf,
  kindOf,
  sameValue,
  titleOf,
  type Chapter,
  type Edits,
  type FieldName,
  type Item,
  type ItemId,
  type Assembly,
  type SoundPart,
} from '../items';
import type { TwinCodec } from '../rulebooks';
import { toMilliseconds } from '../timing';
import { codecFacts } from './codecs';
import { SPOKEN, isLosslessSound } from './for-player';
import { rateFor } from './rates';
import type { SoundRecipe } from './recipe';

/** Whether the items that a file was made from are unchanged. */
export const isMadeFresh = (made: Assembly, find: (id: ItemId) => Item | null): boolean =>
  made.from.every(({ item: id, size, modified }) => {
    const item = find(id);
    return item?.size === size && item.modified === modified;
  });

function losesNothing({ format, facts }: Item): boolean {
  const sound = facts.streams.find(({ type }) => type === 'sound');
  return sound !== undefined && isLosslessSound(format, sound);
}

/** Codecs to which items can be joined: if one of them is lossy, no lossless codec. */
export const codecsFor = (items: readonly Item[], codecs: readonly TwinCodec[]): readonly TwinCodec[] =>
  codecs.filter((codec) => !codecFacts(codec).lossless || items.every(losesNothing));

/** A recipe that keeps what is best in some items, as far as a codec can: no rate goes up for all of them. */
export function recipeFromItems(codec: TwinCodec, items: readonly Item[]): SoundRecipe {
  const facts = codecFacts(codec);
  const sounds = items.flatMap(({ facts: { streams } }) => streams.filter(({ type }) => type === 'sound'));
  const most = (of: (sound: (typeof sounds)[number]) => number | null) =>
    sounds.reduce((high, sound) => Math.max(high, of(sound) ?? 0), 0);
  const sampleRate = rateFor(most((sound) => sound.sampleRate) || 44_100, facts.rates, Infinity) ?? 44_100;
  const channels = Math.max(1, Math.min(most((sound) => sound.channels) || 2, facts.mostChannels));
  const plain = { codec, bitrate: null, sampleRate, channels, mostBits: facts.lossless ? 24 : null } as const;
  if (facts.lossless) return plain;
  const isSpoken = items.every((item) => {
    const kind = kindOf(item);
    return kind !== null && SPOKEN.has(kind);
  });
  const good = (isSpoken ? facts.good.speech : facts.good.music) * (channels === 1 ? 0.5 : 1);
  const own = items.reduce((high, item) => {
    const seconds = item.facts.durationSeconds ?? 0;
    const bytes = item.facts.soundBytes ?? item.size;
    return Math.max(high, losesNothing(item) || seconds === 0 ? Infinity : (bytes * 8) / seconds);
  }, 0);
  const bitrate = facts.bitrates.findLast((one) => one <= Math.min(good, own)) ?? facts.bitrates[0];
  return { ...plain, bitrate: bitrate ?? null };
}

/** Items in the order in which they follow each other: by disc, number, then path. */
export function inPlayingOrder(items: readonly Item[]): readonly Item[] {
  const collator = new Intl.Collator('en', { numeric: true });
  const keyOf = (item: Item) => {
    const { disc, track } = fieldsOf(item);
    return { item, disc: disc ?? 1, track: track ?? Infinity };
  };
  return items
    .map(keyOf)
    .sort(
      (a, b) =>
        a.disc - b.disc ||
        (a.track < b.track ? -1 : a.track > b.track ? 1 : 0) ||
        collator.compare(a.item.path, b.item.path),
    )
    .map(({ item }) => item);
}

/** Fields with equal values in all items, as the fields of their joined file, without numbers of single tracks. */
export function joinedFields(items: readonly Item[]): Edits {
  const [first, ...rest] = items.map(fieldsOf);
  const same = Object.entries(first ?? {}).filter(
    ([name, value]) =>
      value !== null &&
      !OF_ONE.has(name) &&
      rest.every((fields) => sameValue(fields[name as FieldName], value)),
  );
  return Object.fromEntries(same);
}

/** Fields of single tracks. */
const OF_ONE: ReadonlySet<string> = new Set([
  'title',
  'track',
  'tracks',
  'disc',
  'discs',
  'titleSort',
  'lyrics',
]);

/**
 * The chapters of a joined file: those of each item, or one for the whole item.
 * @param starts seconds at which each item begins in it
 */
export function joinedChapters(items: readonly Item[], starts: readonly number[]): readonly Chapter[] {
  return items.flatMap((item, index) => {
    const start = toMilliseconds(starts[index] ?? 0);
    const own = chaptersOf(item);
    if (own.length === 0)
      return [{ startSeconds: start, endSeconds: null, title: titleOf(item), link: null }];
    return own.map(({ startSeconds, title, link }) => ({
      startSeconds: toMilliseconds(start + startSeconds),
      endSeconds: null,
      title,
      link,
    }));
  });
}

/** One of the files that an item is split into. */
export interface SplitPart {
  readonly part: SoundPart;
  readonly fields: Edits;
}

/** An item split at its chapters: each becomes a track with the chapter's title. */
export function splitAtChapters(item: Item): readonly SplitPart[] {
  const chapters = chaptersOf(item);
  const { title, album, track: _track, tracks: _tracks, lyrics: _lyrics, ...others } = fieldsOf(item);
  const said = Object.entries(others).filter(([, value]) => value !== null);
  return chapters.map((chapter, index) => ({
    part: {
      item: item.id,
      // The audio before the first chapter belongs to the first, so that nothing is lost.
      fromSeconds: index === 0 ? 0 : chapter.startSeconds,
      toSeconds: chapters[index + 1]?.startSeconds ?? null,
    },
    fields: {
      ...Object.fromEntries(said),
      album: album ?? title,
      title: chapter.title || `${title ?? ''} ${index + 1}`.trim(),
      track: index + 1,
      tracks: chapters.length,
    },
  }));
}
