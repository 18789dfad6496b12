/*
 * In a genre's frame `(17)` and, from ID3v2.4 on, a bare `17` refer to a numbered list, and `((` stands for an opening
 * bracket (ID3v2.3.0, section 4.2.1, TCON). A name that begins with a bracket is written so that nobody takes it for a
 * reference; a name that is a number cannot be.
 */

/** The numbered list: of the standard up to 79 (ID3v2.3.0, appendix A.3), behind it what programs agreed on since. */
const NUMBERED: readonly string[] = (
  'Blues|Classic Rock|Country|Dance|Disco|Funk|Grunge|Hip-Hop|Jazz|Metal|New Age|Oldies|Other|Pop|R&B|Rap|' +
  'Reggae|Rock|Techno|Industrial|Alternative|Ska|Death Metal|Pranks|Soundtrack|Euro-Techno|Ambient|' +
  'Trip-Hop|Vocal|Jazz+Funk|Fusion|Trance|Classical|Instrumental|Acid|House|Game|Sound Clip|Gospel|Noise|' +
  'Alt. Rock|Bass|Soul|Punk|Space|Meditative|Instrumental Pop|Instrumental Rock|Ethnic|Gothic|Darkwave|' +
  'Techno-Industrial|Electronic|Pop-Folk|Eurodance|Dream|Southern Rock|Comedy|Cult|Gangsta Rap|Top 40|' +
  'Christian Rap|Pop/Funk|Jungle|Native American|Cabaret|New Wave|Psychedelic|Rave|Showtunes|Trailer|Lo-Fi|' +
  'Tribal|Acid Punk|Acid Jazz|Polka|Retro|Musical|Rock & Roll|Hard Rock|Folk|Folk/Rock|National Folk|Swing|' +
  'Fast-Fusion|Bebob|Latin|Revival|Celtic|Bluegrass|Avantgarde|Gothic Rock|Progressive Rock|' +
  'Psychedelic Rock|Symphonic Rock|Slow Rock|Big Band|Chorus|Easy Listening|Acoustic|Humour|Speech|Chanson|' +
  'Opera|Chamber Music|Sonata|Symphony|Booty Bass|Primus|Porn Groove|Satire|Slow Jam|Club|Tango|Samba|' +
  'Folklore|Ballad|Power Ballad|Rhythmic Soul|Freestyle|Duet|Punk Rock|Drum Solo|A Cappella|Euro-House|' +
  'Dance Hall|Goa|Drum & Bass|Club-House|Hardcore|Terror|Indie|BritPop|Negerpunk|Polsk Punk|Beat|' +
  'Christian Gangsta Rap|Heavy Metal|Black Metal|Crossover|Contemporary Christian|Christian Rock|Merengue|' +
  'Salsa|Thrash Metal|Anime|JPop|Synthpop|Abstract|Art Rock|Baroque|Bhangra|Big Beat|Breakbeat|Chillout|' +
  'Downtempo|Dub|EBM|Eclectic|Electro|Electroclash|Emo|Experimental|Garage|Global|IDM|Illbient|' +
  'Industro-Goth|Jam Band|Krautrock|Leftfield|Lounge|Math Rock|New Romantic|Nu-Breakz|Post-Punk|Post-Rock|' +
  'Psytrance|Shoegaze|Space Rock|Trop Rock|World Music|Neoclassical|Audiobook|Audio Theatre|' +
  'Neue Deutsche Welle|Podcast|Indie Rock|G-Funk|Dubstep|Garage Rock|Psybient'
).split('|');

/** Words that a reference may stand for beside a number. */
const LETTERS: Readonly<Record<string, string>> = { RX: 'Remix', CR: 'Cover' };

export const escapeGenre = (genre: string): string => (genre.startsWith('(') ? `(${genre}` : genre);
export const unescapeGenre = (text: string): string => text.replace(/^\(\(/, '(');
export const isReference = (genre: string): boolean => /^(\d{1,3}|RX|CR)$/.test(genre);

/** The name of a genre by its number from 0 on; null where the list has none. */
export const genreByNumber = (number: number): string | null => NUMBERED[number] ?? null;

/** The genres that a text of the frame names: references in brackets one behind the other, then a name of its own. */
export function genreNames(text: string): readonly string[] {
  const names: string[] = [];
  let rest = text;
  for (let found = REFERENCE.exec(rest); found; found = REFERENCE.exec(rest)) {
    const name = nameOf(found[1] as string);
    if (name !== null) names.push(name);
    rest = rest.slice(found[0].length);
  }
  const own = unescapeGenre(rest);
  if (own === '') return names;
  const meant = names.length === 0 && isReference(own) ? nameOf(own) : own;
  // Behind its number programs repeat the name.
  return meant === null || names.includes(meant) ? names : [...names, meant];
}

const REFERENCE = /^\((\d{1,3}|RX|CR)\)/;

const nameOf = (reference: string): string | null => LETTERS[reference] ?? genreByNumber(Number(reference));
