import type { Kind } from './kind';

/** The genres of ID3v1 (ID3v2.3.0, appendix A.3, 0 to 79), as proposals. Other words are equally valid. */
const STANDARD_GENRES: readonly string[] = (
  'Blues|Classic Rock|Country|Dance|Disco|Funk|Grunge|Hip-Hop|Jazz|Metal|New Age|Oldies|Other|Pop|R&B|Rap|Reggae|Rock|' +
  'Techno|Industrial|Alternative|Ska|Death Metal|Pranks|Soundtrack|Euro-Techno|Ambient|Trip-Hop|Vocal|Jazz+Funk|Fusion|' +
  'Trance|Classical|Instrumental|Acid|House|Game|Sound Clip|Gospel|Noise|Alternative Rock|Bass|Soul|Punk|Space|Meditative|' +
  'Instrumental Pop|Instrumental Rock|Ethnic|Gothic|Darkwave|Techno-Industrial|Electronic|Pop-Folk|Eurodance|Dream|' +
  'Southern Rock|Comedy|Cult|Gangsta|Top 40|Christian Rap|Pop/Funk|Jungle|Native US|Cabaret|New Wave|Psychedelic|Rave|' +
  'Showtunes|Trailer|Lo-Fi|Tribal|Acid Punk|Acid Jazz|Polka|Retro|Musical|Rock & Roll|Hard Rock'
).split('|');

const STORIES =
  'Action|Adventure|Animation|Children|Comedy|Crime|Documentary|Drama|Family|Fantasy|History|Horror|Music|Mystery|' +
  'Nature|Romance|Science Fiction|Silent|Thriller|War|Western';
const BOOKS =
  'Adventure|Biography|Children|Classics|Crime|Essays|Fantasy|Fiction|History|Horror|Humour|Letters|Memoir|Mystery|' +
  'Nature|Non-fiction|Philosophy|Plays|Poetry|Romance|Science|Science Fiction|Short Stories|Thriller|Travel|Young Adult';
const TALKS =
  'Arts|Business|Comedy|Education|Fiction|Food|Health|History|Hobbies|Interviews|Language|Music|Nature|News|Politics|' +
  'Religion|Science|Society|Sport|Technology|Travel|True Crime';

const OF_KIND: Readonly<Partial<Record<Kind, readonly string[]>>> = {
  film: STORIES.split('|'),
  episode: STORIES.split('|'),
  audiobook: BOOKS.split('|'),
  podcast: TALKS.split('|'),
};

/** Genres to propose for a kind. Other words are equally valid. */
export const genresOf = (kind: Kind | null): readonly string[] =>
  (kind === null ? undefined : OF_KIND[kind]) ?? STANDARD_GENRES;
