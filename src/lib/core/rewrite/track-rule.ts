import { languageTag, type Content, type Track, type TrackEdit } from '../items';

/** Which tracks stay in many files at once. */
export interface TrackRule {
  /** Languages of sound that stay; null for all. */
  readonly sound: readonly string[] | null;
  /** Languages of subtitles that stay, none where it is empty; null for all. */
  readonly subtitles: readonly string[] | null;
  readonly leavesCommentaries: boolean;
  /** Sound for people who are hard of seeing. */
  readonly leavesDescriptions: boolean;
}

export const ALL_TRACKS: TrackRule = {
  sound: null,
  subtitles: null,
  leavesCommentaries: false,
  leavesDescriptions: false,
};

/** Languages that stand for others, too: a file that says `no` means one of them. */
const WIDER: Readonly<Record<string, string>> = { nb: 'no', nn: 'no', cmn: 'zh', yue: 'zh' };

const primary = (tag: string): string => (languageTag(tag) ?? tag).split('-')[0]?.toLowerCase() ?? '';

/** Whether two tags are of one language, whatever the region or script. */
function isSameLanguage(a: string, b: string): boolean {
  const [one, other] = [primary(a), primary(b)];
  return one === other || WIDER[one] === other || WIDER[other] === one;
}

const isCommentary = ({ isCommentary: isOne, name }: Track): boolean =>
  isOne === true || /comment(ary|aries)\b/i.test(name);

/**
 * What a rule makes of a file's tracks: each of sound and of subtitles is left out or let in. A track whose language is not
 * known stays; so do subtitles that are always shown, in a language whose sound stays, and all sound where none would be
 * left.
 */
export function ruledTracks({ tracks = [] }: Pick<Content, 'tracks'>, rule: TrackRule): readonly TrackEdit[] {
  const sounds = tracks.filter(({ type }) => type === 'sound');
  const isAsked = (track: Track, languages: readonly string[] | null): boolean =>
    languages === null ||
    track.language === null ||
    languages.some((language) => isSameLanguage(language, track.language as string));
  const isLeft = (track: Track): boolean =>
    (rule.leavesCommentaries && isCommentary(track)) ||
    (rule.leavesDescriptions && track.isForSeeing === true);
  const plain = sounds.filter((track) => !isLeft(track));
  const asked = plain.filter((track) => isAsked(track, rule.sound));
  const heard = new Set([asked, plain, sounds].find((some) => some.length > 0) ?? []);
  const stays = (track: Track): boolean => {
    if (track.type === 'picture') return true;
    if (track.type === 'sound') return heard.has(track);
    if (isLeft(track)) return false;
    const isSpoken = [...heard].some(({ language }) => language !== null && isAsked(track, [language]));
    return isAsked(track, rule.subtitles) || (track.isForced === true && isSpoken);
  };
  return tracks.map((track) => ({ id: track.id, isLeftOut: !stays(track) }));
}
