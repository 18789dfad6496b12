import { describe, expect, test } from 'vitest';
import { makeItem } from '../../../../tests/helpers/items';
import { editItem, parseFieldText } from './index';
import { extensionOf, folderOf, stemOf } from '../paths';

test.each([
  ['half a letter pair', 'a\ud800b', 'a\ufffdb'],
  ['another half', '\udc00', '\ufffd'],
  ['null letters', 'a\0b', 'ab'],
  ['a byte order mark in front', '\ufeffLow Water', 'Low Water'],
  ['whole pairs', 'sea 🌊', 'sea 🌊'],
])('text loses what nothing can hold, whichever way it enters: %s', (_what, text, clean) => {
  const item = makeItem('x', { title: 'old' });
  expect(editItem(item, { title: text }).edits.fields?.title).toBe(clean);
  expect(parseFieldText('title', text)).toEqual({ type: 'value', value: clean });
  expect(encodeURIComponent(editItem(item, { album: text }).edits.fields?.album as string)).toBeTruthy();
});

test('an edit back to what the file says is no edit', () => {
  const item = makeItem('x', { title: 'A' });
  expect(editItem(editItem(item, { title: 'B', date: null }), { title: 'A' }).edits).toEqual({});
});

describe('what is typed', () => {
  test.each([
    ['date', ' 2019 ', { type: 'value', value: '2019' }],
    ['date', '', { type: 'value', value: null }],
    ['title', '  a  ', { type: 'value', value: 'a' }],
    ['date', 'soon', { type: 'wrong', reason: 'is no date such as 2024, 2024-05 or 2024-05-31' }],
    ['date', '2024-13', { type: 'wrong', reason: 'is no date such as 2024, 2024-05 or 2024-05-31' }],
    ['date', '2024-02', { type: 'value', value: '2024-02' }],
    ['track', 'soon', { type: 'wrong', reason: 'is not a number' }],
    ['track', '12345', { type: 'wrong', reason: 'is above 9999' }],
    ['artist', 'Orla Venn; Dag Holme ;; ', { type: 'value', value: ['Orla Venn', 'Dag Holme'] }],
    ['track', '-1', { type: 'wrong', reason: 'is not a number' }],
    ['title', 'x'.repeat(20_001), { type: 'wrong', reason: 'is longer than 20,000 letters' }],
  ] as const)('%s %j', (name, typed, parsed) => expect(parseFieldText(name, typed)).toEqual(parsed));
});

test('parts of a path', () => {
  expect([
    folderOf('a/b/c.d.mp3'),
    stemOf('a/b/c.d.mp3'),
    extensionOf('a/b/c.d.MP3'),
    stemOf('.hidden'),
    extensionOf('a.b/c'),
  ]).toEqual(['a/b', 'c.d', 'mp3', '.hidden', '']);
});
