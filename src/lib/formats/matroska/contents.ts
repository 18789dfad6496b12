import { ascii, concat, fnv1a, readU32 } from '$lib/core/bytes';
import { TRACK_FLAGS, type Chapter, type PictureRole, type TrackEdit } from '$lib/core/items';
import { bytesOf, children, element, number, numberElement, text, textElement } from '../ebml';
import { FormatError, type NewPicture, type TagChanges } from '../format';
import { codeAndTag } from '../language';
import { addText, tagChangesFor, type NativeChange } from '../tag-map';
import { FLAG_IDS, ID } from './ids';
import { MATROSKA_MAP } from './tag-map';

/* What stands inside of tags, chapters and attachments once something of it is changed. All else stays byte for byte. */

/** Elements of one level with their bytes, header included. One that tells no size gets one, since others come behind it. */
export function parts(
  b: Uint8Array,
): { readonly id: number; readonly inside: Uint8Array; readonly whole: Uint8Array }[] {
  return (
    children(b)
      // A checksum of what it was before (RFC 8794, section 11.3.1).
      .filter(({ id }) => id !== ID.crc32)
      .map(({ id, start, content, end, isOpen }) => {
        const inside = b.subarray(content, end);
        return { id, inside, whole: isOpen ? element(id, inside) : b.subarray(start, end) };
      })
  );
}

const targetOf = (tag: Uint8Array): number => {
  const targets = bytesOf(tag, ID.targets);
  return (targets && number(targets, ID.targetTypeValue)) ?? 50;
};

/** A target that names a track, an edition, a chapter or an attachment is about that, and not about the whole. */
const isOfAll = (tag: Uint8Array): boolean => {
  const targets = bytesOf(tag, ID.targets);
  return !targets || children(targets).every(({ id }) => !PARTS.has(id));
};
const PARTS: ReadonlySet<number> = new Set([
  ID.tagTrackUid,
  ID.tagEditionUid,
  ID.tagChapterUid,
  ID.tagAttachmentUid,
]);

/** The native changes that edits come to. @param title of the segment itself */
export function nativeChanges(
  tags: Uint8Array | null,
  title: string | null,
  { fields, kind }: Pick<TagChanges, 'fields' | 'kind'>,
): readonly NativeChange[] {
  const texts = new Map<string, string[]>();
  for (const { id, inside } of tags ? parts(tags) : [])
    if (id === ID.tag)
      for (const simple of parts(inside))
        if (simple.id === ID.simpleTag)
          addText(
            texts,
            `${targetOf(inside)}:${(text(simple.inside, ID.tagName) ?? '').toUpperCase()}`,
            text(simple.inside, ID.tagString) ?? '',
          );
  addText(texts, 'segment:TITLE', title ?? '');
  return tagChangesFor(MATROSKA_MAP, { fields, kind }, texts);
}

/** The content of the tags with these changes; those that say nothing any more go. */
export function changeTags(tags: Uint8Array | null, changes: readonly NativeChange[]): Uint8Array {
  const goes = new Set(changes.flatMap((change) => change.goes));
  const fresh = changes.flatMap(({ name, texts }) => {
    const [target = '', own = ''] = name.split(/:(.*)/s);
    return target === 'segment' ? [] : texts.map((value) => ({ target: Number(target), name: own, value }));
  });
  const out: Uint8Array[] = [];
  for (const { id, inside, whole } of tags ? parts(tags) : []) {
    if (id !== ID.tag) {
      out.push(whole);
      continue;
    }
    const target = targetOf(inside);
    const isGone = (simple: Uint8Array) =>
      goes.has(`${target}:${(text(simple, ID.tagName) ?? '').toUpperCase()}`);
    const rest = parts(inside).filter((one) => !(one.id === ID.simpleTag && isGone(one.inside)));
    // New ones join the first tag of their target that is about the whole.
    const own = isOfAll(inside) ? fresh.filter((one) => one.target === target) : [];
    for (const one of own) fresh.splice(fresh.indexOf(one), 1);
    if (rest.some((one) => one.id === ID.simpleTag) || own.length > 0)
      out.push(element(ID.tag, ...rest.map((one) => one.whole), ...own.map(simpleTag)));
  }
  for (const target of new Set(fresh.map((one) => one.target)))
    out.push(
      element(
        ID.tag,
        element(ID.targets, numberElement(ID.targetTypeValue, target)),
        ...fresh.filter((one) => one.target === target).map(simpleTag),
      ),
    );
  return concat(out);
}

const simpleTag = ({ name, value }: { readonly name: string; readonly value: string }): Uint8Array =>
  element(ID.simpleTag, textElement(ID.tagName, name), textElement(ID.tagString, value));

/** The content of `Info` with another title; null takes it out. */
export function changeTitle(info: Uint8Array, title: string | null): Uint8Array {
  const rest = parts(info).filter(({ id }) => id !== ID.title && id !== ID.void);
  const fresh = title === null || title === '' ? [] : [textElement(ID.title, title)];
  return concat([...rest.map(({ whole }) => whole), ...fresh]);
}

/** The content of chapters: one edition, in which they follow each other. Times are nanoseconds. */
export function chaptersContent(chapters: readonly Chapter[]): Uint8Array {
  if (chapters.length === 0) return new Uint8Array(0);
  const atoms = chapters.map(({ startSeconds, endSeconds, title }, index) =>
    element(
      ID.chapterAtom,
      numberElement(ID.chapterUid, index + 1),
      numberElement(ID.chapterStart, nanoseconds(startSeconds)),
      ...(endSeconds === null ? [] : [numberElement(ID.chapterEnd, nanoseconds(endSeconds))]),
      ...(title === ''
        ? []
        : [
            element(
              ID.chapterDisplay,
              textElement(ID.chapterText, title),
              element(ID.chapterLanguage, ascii('und')),
            ),
          ]),
    ),
  );
  return element(ID.edition, ...atoms);
}

const nanoseconds = (seconds: number): number => Math.round(seconds * 1000) * 1_000_000;

/**
 * The content of the tracks with what is said of some of them.
 * @throws {FormatError} `damaged` where not all of it is elements: a size that is wrong may take the sound in as well
 */
export function changeTracks(tracks: Uint8Array, edits: readonly TrackEdit[]): Uint8Array {
  if ((children(tracks).at(-1)?.end ?? 0) !== tracks.length)
    throw new FormatError('damaged', 'what it says of its tracks breaks off');
  const byNumber = new Map(edits.map((edit) => [edit.id, edit]));
  return concat(
    parts(tracks).map(({ id, inside, whole }) => {
      const edit = id === ID.trackEntry ? byNumber.get(number(inside, ID.trackNumber) ?? 0) : undefined;
      return edit ? element(ID.trackEntry, changeTrack(inside, edit)) : whole;
    }),
  );
}

function changeTrack(track: Uint8Array, edit: TrackEdit): Uint8Array {
  const { name, language } = edit;
  const flags = TRACK_FLAGS.filter((flag) => edit[flag] !== undefined);
  const gone = new Set<number>([
    ...flags.map((flag) => FLAG_IDS[flag]),
    ...(name === undefined ? [] : [ID.trackName]),
    ...(language === undefined ? [] : [ID.language, ID.languageBcp47]),
  ]);
  const rest = parts(track).filter(({ id }) => !gone.has(id));
  return concat([
    ...rest.map(({ whole }) => whole),
    ...(name ? [textElement(ID.trackName, name)] : []),
    ...(language === undefined ? [] : languageElements(language)),
    ...flags.map((flag) => numberElement(FLAG_IDS[flag], Number(edit[flag]))),
  ]);
}

/**
 * The code of three letters that older players read, and beside it the tag that newer ones go by (RFC 9559, sections
 * 5.1.4.1.19 and 5.1.4.1.20). Without the first, a track would count as English.
 */
function languageElements(language: string | null): readonly Uint8Array[] {
  const { code, tag } = codeAndTag(language);
  return [
    element(ID.language, ascii(code)),
    ...(tag === null ? [] : [element(ID.languageBcp47, ascii(tag))]),
  ];
}

/** The content of attachments with a front picture in place of the one that is there, or without pictures that are removed. */
export function changePictures(
  attachments: Uint8Array | null,
  pictures: ReadonlyMap<PictureRole, NewPicture | null>,
): Uint8Array {
  const files = attachments ? parts(attachments) : [];
  const isPicture = ({ id, inside }: { readonly id: number; readonly inside: Uint8Array }) =>
    id === ID.attachedFile && (text(inside, ID.fileType) ?? '').startsWith('image/');
  const isFront = (file: { readonly id: number; readonly inside: Uint8Array }) =>
    isPicture(file) && /cover/i.test(text(file.inside, ID.fileName) ?? '');
  const own = files.filter(isFront);
  const front = pictures.get('front');
  const replaced = front && own.length === 0 ? files.filter(isPicture).slice(0, 1) : own;
  const out = new Set([
    ...(front === undefined ? [] : replaced),
    ...(pictures.get('other') === null ? files.filter((file) => isPicture(file) && !isFront(file)) : []),
  ]);
  const left = files.filter((file) => !out.has(file));
  const fresh = front
    ? [
        frontElement(
          front,
          left.map(({ inside }) => inside),
        ),
      ]
    : [];
  return concat([...left.map(({ whole }) => whole), ...fresh]);
}

function frontElement({ mime, bytes }: NewPicture, others: readonly Uint8Array[]): Uint8Array {
  return element(
    ID.attachedFile,
    textElement(ID.fileName, `cover.${mime === 'image/png' ? 'png' : 'jpg'}`),
    element(ID.fileType, ascii(mime)),
    element(ID.fileData, bytes),
    // Any number but 0 that no other file of it has (RFC 9559, section 5.1.6.1.4).
    numberElement(ID.fileUid, freeUid(others, bytes)),
  );
}

function freeUid(others: readonly Uint8Array[], bytes: Uint8Array): number {
  const taken = new Set(others.map((file) => lastBytes(bytesOf(file, ID.fileUid))));
  let uid = fnv1a(bytes) || 1;
  while (taken.has(uid)) uid = (uid + 1) >>> 0 || 1;
  return uid;
}

/** Of a number of eight bytes those that ours may have. */
const lastBytes = (uid: Uint8Array | null): number => {
  const padded = concat([new Uint8Array(4), uid ?? new Uint8Array(0)]);
  return readU32(padded, padded.length - 4);
};
