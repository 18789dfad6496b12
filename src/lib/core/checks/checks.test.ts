import { describe, expect, test } from 'vitest';
import { makeItem } from '../../../../tests/helpers/items';
import type { Item, ItemId } from '../items';
import { fingerprintText } from '../sound';
import { findingsOf, type Checked } from './checks';

const sound = (seed: number, length = 300) => {
  let state = seed * 2_654_435_761;
  return Uint32Array.from({ length }, () => (state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0));
};
/** The same sound as another encoder leaves it: here and there a bit differs. */
const encoded = (print: Uint32Array) =>
  print.map((value, index) => (index % 3 === 0 ? (value ^ (1 << (index % 31))) >>> 0 : value));

const check = (rest: Partial<Checked> = {}): Checked => ({
  size: 1000,
  modified: 1,
  decodes: 'whole',
  reason: null,
  decodedSeconds: 200,
  digest: null,
  fingerprint: null,
  speech: null,
  ...rest,
});
const findings = (pairs: readonly (readonly [Item, Checked])[]) =>
  findingsOf(
    pairs.map(([item]) => item),
    new Map(pairs.map(([item, checked]) => [item.id, checked])),
  );
const one = makeItem('one');

describe('one file', () => {
  test('that decodes as long as it says is no finding', () => {
    expect(findings([[one, check()]])).toEqual([]);
    expect(findings([[one, check({ decodedSeconds: 201.5 })]])).toEqual([]);
  });

  test.each([
    [
      { decodes: 'no' as const, reason: 'no decoder', decodedSeconds: null },
      { type: 'cannotPlay', reason: 'no decoder' },
    ],
    [
      { decodes: 'part' as const, decodedSeconds: 80 },
      { type: 'breaksOff', decodedSeconds: 80, saidSeconds: 200 },
    ],
    [{ decodedSeconds: 150 }, { type: 'lengthDiffers', decodedSeconds: 150, saidSeconds: 200 }],
  ])('%j', (rest, finding) => expect(findings([[one, check(rest)]])).toMatchObject([finding]));

  test('checked before it changed says nothing any more', () =>
    expect(findings([[{ ...one, modified: 2 }, check({ decodes: 'no' })]])).toEqual([]));
});

describe('doubles', () => {
  const flac = makeItem('flac', { title: 'Wick', artist: ['Orla Venn'] });
  const copy = makeItem('copy', {}, { format: 'mp3', size: 400 });

  test('the same data under two names, with what differs', () => {
    const other = makeItem('other', { title: 'Wick' });
    expect(
      findings([
        [flac, check({ digest: 'x' })],
        [other, check({ digest: 'x' })],
      ]),
    ).toEqual([
      {
        type: 'doubles',
        how: 'identical',
        distance: 0,
        items: ['flac', 'other'],
        differing: ['path', 'artist'],
      },
    ]);
  });

  test.each(['flac', 'oggFlac', 'wav', 'aiff'] as const)(
    'what loses nothing, such as %s, comes first',
    (format) => {
      const print = fingerprintText(sound(7));
      const found = findings([
        [makeItem('larger', {}, { format: 'mp3' }), check({ size: 1000, digest: 'b', fingerprint: print })],
        [makeItem('whole', {}, { format, size: 900 }), check({ size: 900, digest: 'a', fingerprint: print })],
      ]);
      expect(found).toMatchObject([{ type: 'doubles', items: ['whole', 'larger'] }]);
    },
  );

  test('the same recording in another format; the lossless one first', () => {
    const print = sound(7);
    const found = findings([
      [copy, check({ size: 400, digest: 'b', fingerprint: fingerprintText(encoded(print)) })],
      [flac, check({ digest: 'a', fingerprint: fingerprintText(print) })],
      [one, check({ digest: 'c', fingerprint: fingerprintText(sound(8)) })],
    ]);
    expect(found).toMatchObject([{ type: 'doubles', how: 'alike', items: ['flac', 'copy'] }]);
    expect(found[0]?.type === 'doubles' && found[0].distance).toBeLessThan(0.05);
  });

  test('three that are alike are one group, identical ones told once', () => {
    const print = fingerprintText(sound(9));
    const ids = ['a', 'b', 'c'].map((id) => makeItem(id));
    const found = findings(
      ids.map((item, index) => [item, check({ digest: index < 2 ? 'x' : 'y', fingerprint: print })]),
    );
    expect(found.map((finding) => finding.type === 'doubles' && [finding.how, finding.items.length])).toEqual(
      [
        ['identical', 2],
        ['alike', 2],
      ],
    );
  });

  test('five thousand recordings are compared without looking at every pair', () => {
    const pairs = Array.from({ length: 5000 }, (_, index): readonly [Item, Checked] => [
      makeItem(`i${index}`),
      check({ digest: String(index), fingerprint: fingerprintText(sound(index % 4990, 60)) }),
    ]);
    expect(findings(pairs).filter(({ type }) => type === 'doubles')).toHaveLength(10);
  });

  test('silence is alike to nothing', () => {
    const silence = fingerprintText(new Uint32Array(300).fill(627_964_279));
    const many = Array.from({ length: 70 }, (_, index) => makeItem(`s${index}` as ItemId));
    expect(
      findings(many.map((item, index) => [item, check({ digest: String(index), fingerprint: silence })])),
    ).toEqual([]);
  });
});
