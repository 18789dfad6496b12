import { pictureKey, sameTimed, type Chapter, type Content, type FieldName, type Overlay } from '../items';
import { sameInTags } from '../plan';

/** Seconds by which a time may be rounded in a tag. */
const ROUNDED_SECONDS = 0.002;

/** Whether chapters read from a tag are those that were to be written; of ends and pictures each format keeps its share. */
export const saysChapters = (wanted: readonly Chapter[], found: readonly Chapter[]): boolean =>
  wanted.length === found.length &&
  wanted.every(
    ({ startSeconds, title, link, picture }, index) =>
      found[index]?.title === title &&
      found[index].link === link &&
      (picture === undefined || found[index].picture?.bytes === picture?.bytes) &&
      Math.abs(found[index].startSeconds - startSeconds) < ROUNDED_SECONDS,
  );

/** Ends as far as both tell any: of the last chapter it is told by the file. */
const sameEnds = (wanted: readonly Chapter[], found: readonly Chapter[]): boolean =>
  wanted.every(({ endSeconds }, index) => {
    const end = found[index]?.endSeconds ?? null;
    return endSeconds === null || (end !== null && Math.abs(end - endSeconds) < ROUNDED_SECONDS);
  });

/** A picture that was chosen is told by its length alone once it is in a file. */
function showsPicture(wanted: Chapter['picture'], found: Chapter['picture']): boolean {
  if (!wanted || !found) return !wanted && !found;
  return 'id' in wanted ? wanted.bytes === found.bytes : pictureKey(wanted) === pictureKey(found);
}

/**
 * What of changes a file does not say already, as far as its tags tell one value from another. Without this, what a
 * format rounds or leaves out would be written again and again.
 */
export function unsaid(file: Content, { fields, chapters, timed, ...rest }: Overlay): Overlay {
  const names = Object.entries(fields ?? {}).filter(
    ([name, value]) => !sameInTags(value, file.fields[name as FieldName]),
  );
  const isSaid = (wanted: readonly Chapter[]) =>
    saysChapters(wanted, file.chapters) &&
    sameEnds(wanted, file.chapters) &&
    wanted.every(({ picture }, index) => showsPicture(picture, file.chapters[index]?.picture));
  return {
    ...rest,
    ...(names.length > 0 && { fields: Object.fromEntries(names) }),
    ...(chapters && !isSaid(chapters) && { chapters }),
    ...(timed && !sameTimed(timed, file.timed ?? []) && { timed }),
  };
}
