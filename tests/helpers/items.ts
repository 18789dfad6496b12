import {
  EMPTY_FIELDS,
  type ArrivalId,
  type Fields,
  type Item,
  type ItemId,
  type SourceId,
} from '../../src/lib/core/items';
import type { Kind } from '../../src/lib/core/kinds';
import { toPlanItem, type PlanItem } from '../../src/lib/core/plan';
import { outgoingOf } from '../../src/lib/formats';

/** An item made for a test: a settled song of `A/B/01 name.flac`, unless told otherwise. */
export function makeItem(id: string, fields: Partial<Fields> = {}, rest: Partial<Item> = {}): Item {
  const kind: Kind = 'song';
  return {
    id: id as ItemId,
    arrival: 'arrival' as ArrivalId,
    source: 'source' as SourceId,
    path: `Music/Album/${id}.flac`,
    size: 1000,
    modified: 1,
    format: 'flac',
    facts: {
      durationSeconds: 200,
      streams: [{ type: 'sound', codec: 'FLAC', channels: 2, sampleRate: 44_100, width: null, height: null }],
      tagFormats: ['vorbis'],
    },
    native: [],
    file: {
      fields: { ...EMPTY_FIELDS, ...fields },
      pictures: [{ role: 'front', mime: 'image/jpeg', bytes: 9000, width: 600, height: 600, hash: 1 }],
      chapters: [],
    },
    guess: { kind, certainty: 'sure', points: 80, next: 'podcast', nextPoints: 0, evidence: [] },
    settled: kind,
    edits: {},
    beside: [],
    gone: null,
    identity: null,
    gathering: null,
    made: null,
    foundBeside: null,
    ...rest,
  };
}

export const planItem = (item: Item): PlanItem => toPlanItem(item, outgoingOf);

/** The songs of one well-made album. */
export function makeAlbum(count: number, fields: Partial<Fields> = {}): Item[] {
  return Array.from({ length: count }, (_, index) =>
    makeItem(`song-${index + 1}`, {
      title: `Song ${index + 1}`,
      artist: ['The Tidewrack Choir'],
      albumArtist: 'The Tidewrack Choir',
      album: 'Salt Ledger',
      date: '2019',
      track: index + 1,
      tracks: count,
      ...fields,
    }),
  );
}
