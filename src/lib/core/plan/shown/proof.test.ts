import { expect, test } from 'vitest';
import { prove, type PlayerScan } from './proof';
import { rehearse, type ShownFacts, type TreeFile } from './showing';
import { readSidecar, runtimeMinutes, writeSidecar } from './sidecar';
import { EMPTY_FIELDS, type Fields } from '../../items';
import { sidecarFor } from '../../rulebooks';
import { RULEBOOKS } from '$lib/rulebooks';

const song = (path: string, fields: Partial<Fields>): TreeFile => ({
  path,
  role: 'media',
  item: null,
  kind: 'song',
  fields: { ...EMPTY_FIELDS, ...fields },
  text: null,
});
const tree = [
  song('Music/a/1.mp3', { title: 'One', album: 'A', artist: ['X'], track: 1 }),
  song('Music/a/2.mp3', { title: 'Two', album: 'A', artist: ['X'], track: 2 }),
  song('Music/a/3.mp3', { title: 'Three', artist: ['X'] }),
];
const showing = rehearse(tree, RULEBOOKS.attic);
type Leaf = { readonly path: string } & ShownFacts;
const scanOf = (items: readonly Leaf[], rest: ShownFacts = {}): PlayerScan => ({
  nodes: [
    {
      key: 'a',
      kind: 'song',
      facts: { title: 'A', maker: 'X', year: null, picture: null, ...rest },
      path: null,
      item: null,
      nodes: items.map(({ path, ...facts }) => ({
        key: path,
        kind: 'song',
        facts,
        path,
        item: null,
        nodes: [],
      })),
    },
  ],
  unplaced: [],
  lists: [],
});
const one = { path: 'Music/a/1.mp3', title: 'One', artist: 'X', track: 1, disc: null };
const two = { path: 'Music/a/2.mp3', title: 'Two', artist: 'X', track: 2, disc: null };
const ours = new Set(tree.map(({ path }) => path));

test('a rehearsal places what has an album, and says what it would miss', () => {
  expect(showing.nodes.map(({ facts, nodes }) => [facts.title, nodes.length])).toEqual([['A', 2]]);
  expect(showing.unplaced).toEqual([{ path: 'Music/a/3.mp3', code: 'missing', detail: 'album' }]);
});

test('agreement has no differences', () => {
  expect(prove(showing, scanOf([one, two]), ours)).toEqual({
    agreed: 2,
    lists: 0,
    differences: [],
    foreign: 0,
  });
});

test('each way of differing is told', () => {
  const told = (scan: PlayerScan) =>
    prove(showing, scan, ours).differences.map(({ what, path }) => `${what} ${path.at(-5)}`);
  expect(told(scanOf([one]))).toEqual(['missing 2']);
  expect(told({ ...scanOf([one]), unplaced: [{ path: two.path, reason: 'cannot be read' }] })).toEqual([
    'refused 2',
  ]);
  expect(told(scanOf([one, { ...two, title: 'Tow', track: 3 }]))).toEqual(['title 2', 'track 2']);
  expect(told(scanOf([one, two], { year: 2001 }))).toEqual(['shelf 1', 'shelf 2']);
  expect(told(scanOf([one, two, { ...one, path: 'Music/a/3.mp3' }]))).toEqual(['extra 3']);
});

test('what the player has of its own is counted, not blamed', () => {
  expect(prove(showing, scanOf([one, two, { ...one, path: 'Music/own.mp3' }]), ours)).toMatchObject({
    differences: [],
    foreign: 1,
  });
});

test('a sidecar says what it was given, hostile letters included', () => {
  const rules = sidecarFor(RULEBOOKS.attic, 'musicVideo');
  if (!rules) throw new Error('no sidecar');
  const fields = {
    ...EMPTY_FIELDS,
    title: '<script>alert("x")</script> & \u0007',
    artist: ['שלום עולם'],
    date: '2019',
    track: 3,
  };
  const text = writeSidecar(rules, fields, 149);
  expect(text).toMatch(/^<\?xml version="1\.0" encoding="UTF-8"\?>\n<clip>/);
  expect(text).not.toContain('<script>');
  expect(text).toContain('<minutes>2</minutes>');
  expect(readSidecar(rules, text)).toEqual({ ...fields, title: '<script>alert("x")</script> &' });
  expect(readSidecar(rules, '<feature><name>x</name></feature>')).toBeNull();
  expect(readSidecar(rules, '<clip><name>x</clip>')).toBeNull();
});

test.each([
  [10, 1],
  [89, 1],
  [90, 2],
  [3600, 60],
])('%d seconds are %d whole minutes', (seconds, minutes) => expect(runtimeMinutes(seconds)).toBe(minutes));
