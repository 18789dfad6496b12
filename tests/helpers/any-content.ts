import fc from 'fast-check';
import {
  FIELDS,
  cleanLine,
  toTexts,
  type Chapter,
  type Edits,
  type FieldFacts,
  type FieldValue,
  type TimedLine,
} from '../../src/lib/core/items';

/* Arbitrary content, as a curator may say it: for the laws of the model. */

const letters = fc
  .string({ unit: 'grapheme', minLength: 1, maxLength: 24 })
  .map((text) => text.toWellFormed().replaceAll('\0', '').trim())
  .filter((text) => text !== '' && !text.startsWith('\ufeff'));
const pad = (value: number, width: number) => String(value).padStart(width, '0');
const date = fc
  .tuple(
    fc.integer({ min: 1, max: 9999 }),
    fc.integer({ min: 1, max: 12 }),
    fc.integer({ min: 1, max: 31 }),
    fc.nat(2),
  )
  .map(([year, month, day, parts]) =>
    [pad(year, 4), pad(month, 2), pad(day, 2)].slice(0, parts + 1).join('-'),
  );

function valueOf({ type, limit }: FieldFacts): fc.Arbitrary<FieldValue> {
  switch (type) {
    case 'number':
      return fc.integer({ min: 0, max: limit });
    case 'gain':
      return fc.integer({ min: -6000, max: 6000 }).map((value) => value / 100);
    case 'yesno':
      return fc.constant(true);
    case 'date':
      return date;
    case 'language':
      return fc.constantFrom('en', 'gd', 'pt-BR', 'mul', 'zh-Hant-TW');
    case 'texts':
      return fc.array(letters, { minLength: 1, maxLength: 4 }).map((texts) => toTexts(texts));
    case 'lines':
      return fc.array(letters, { minLength: 1, maxLength: 3 }).map((texts) => texts.join('\n'));
    default:
      return letters;
  }
}

/** Edits of any fields, emptied ones among them. */
export const anyEdits: fc.Arbitrary<Edits> = fc.record(
  Object.fromEntries(FIELDS.map((field) => [field.name, fc.option(valueOf(field), { freq: 5 })])),
  { requiredKeys: [] },
);

/** Chapters in order, whole milliseconds apart. */
export const anyChapters: fc.Arbitrary<readonly Chapter[]> = fc
  .array(fc.tuple(fc.integer({ min: 1, max: 600_000 }), fc.option(letters), fc.boolean()), { maxLength: 12 })
  .map((parts) => {
    let at = 0;
    return parts.map(([length, title, link]): Chapter => {
      const startSeconds = at / 1000;
      at += length;
      return {
        startSeconds,
        endSeconds: null,
        title: title ?? '',
        link: link ? `https://skerry.example/${at}` : null,
      };
    });
  });

/** Lines with their times in order, some with times of their words. */
export const anyTimed: fc.Arbitrary<readonly TimedLine[]> = fc
  .array(
    fc.tuple(
      fc.integer({ min: 1, max: 60_000 }),
      fc.array(fc.tuple(fc.integer({ min: 0, max: 900 }), letters), { maxLength: 4 }),
      fc.boolean(),
    ),
    { maxLength: 8 },
  )
  .map((parts) => {
    let at = 0;
    return parts.map(([length, pieces, isByWord]): TimedLine => {
      const startSeconds = at / 1000;
      let from = at;
      const words = pieces.map(([later, text], index) => {
        from += later;
        return { startSeconds: from / 1000, text: index === 0 ? text : ` ${text}` };
      });
      at += length + 4000;
      const text = words.map((word) => word.text).join('');
      return cleanLine({ startSeconds, text, ...(isByWord && { words }) });
    });
  });
