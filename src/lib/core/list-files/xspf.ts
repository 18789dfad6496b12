import { XMLBuilder, XMLParser, XMLValidator } from 'fast-xml-parser';
import { plainXml } from '../xml';
import type { OpenSaid } from '../lists';
import { ListFileError, MOST_ENTRIES, tooMany, type ListOnFile } from './list-file';

/* XSPF version 1 (xspf.org/spec). Locations are addresses, lengths are milliseconds. */

/** Start and end tags: parsing takes time for each, and a list of 50,000 tracks has no more. */
const MOST_TAGS = 600_000;

type Xml = Readonly<Record<string, unknown>>;

const text = (value: unknown): string | null => {
  const first: unknown = Array.isArray(value) ? value[0] : value;
  const own = typeof first === 'object' && first !== null ? (first as Xml)['#text'] : first;
  return typeof own === 'string' && own.trim() !== '' ? own : null;
};

const list = (value: unknown): readonly unknown[] =>
  Array.isArray(value) ? value : value === undefined || value === '' ? [] : [value];

/** @throws {ListFileError} if it is not XML, or declares entities */
export function readXspf(content: string): ListOnFile {
  // Entities that a file declares could grow without end; lists need none.
  if (/<!DOCTYPE/i.test(content)) throw new ListFileError('it declares a document type, which no list needs');
  if (countOf(content, '<') > MOST_TAGS) throw new ListFileError('it has more elements than any list');
  const valid = XMLValidator.validate(content);
  if (valid !== true) throw new ListFileError(valid.err.msg, valid.err.line);
  const parser = new XMLParser({
    removeNSPrefix: true,
    parseTagValue: false,
    trimValues: true,
    ignoreAttributes: true,
    processEntities: true,
    htmlEntities: true,
  });
  const { playlist } = parser.parse(content) as { playlist?: Xml };
  if (typeof playlist !== 'object') throw new ListFileError('it has no element “playlist”');
  const tracks = list((playlist.trackList as Xml | undefined)?.track);
  if (tracks.length > MOST_ENTRIES) throw tooMany();
  const entries = tracks.flatMap((track): OpenSaid[] => {
    const own = (typeof track === 'object' && track !== null ? track : {}) as Xml;
    const path = text(own.location);
    const title = text(own.title);
    if (path === null && title === null) return [];
    const length = Number(text(own.duration));
    const seconds = length > 0 ? length / 1000 : null;
    return [{ path: path ?? '', title, artist: text(own.creator), seconds }];
  });
  return { name: text(playlist.title), entries };
}

function countOf(text: string, sign: string): number {
  let count = 0;
  for (let at = text.indexOf(sign); at >= 0; at = text.indexOf(sign, at + 1)) count++;
  return count;
}

export function writeXspf({ name, entries }: ListOnFile): readonly string[] {
  const builder = new XMLBuilder({
    format: true,
    indentBy: '  ',
    suppressEmptyNode: true,
    ignoreAttributes: false,
  });
  const track = entries.map(({ path, title, artist, seconds }) => ({
    ...(path !== '' && { location: plainXml(path) }),
    ...(title !== null && { title: plainXml(title) }),
    ...(artist !== null && { creator: plainXml(artist) }),
    ...(seconds !== null && { duration: Math.round(seconds * 1000) }),
  }));
  const built = builder.build({
    '?xml': { '@_version': '1.0', '@_encoding': 'UTF-8' },
    playlist: {
      '@_version': '1',
      '@_xmlns': 'http://xspf.org/ns/0/',
      ...(name !== null && { title: plainXml(name) }),
      trackList: track.length === 0 ? '' : { track },
    },
  });
  return built.trimEnd().split('\n');
}
