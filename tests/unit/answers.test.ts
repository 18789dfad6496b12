import { expect, test } from 'vitest';
import { filesOn, pathsOn } from '../helpers/answers';

const asking = (answer: unknown, status = 200) => ({
  get: async () => ({ ok: () => status < 400, status: () => status, json: async () => answer }),
});
const file = { path: 'a', size: 1, digest: 'a'.repeat(64) };

test('an answer of the promised shape is given on, by paths', async () => {
  const answer = { files: [{ ...file, path: 'b' }, file] };
  expect(await pathsOn(asking(answer), 'attic')).toEqual(['a', 'b']);
});

test.each([
  ['a name that is sent under another one', { files: [{ path: 'a', size: 1, sha256: file.digest }] }],
  ['a name more', { files: [{ ...file, more: 1 }] }],
  ['no digest', { files: [{ path: 'a', size: 1 }] }],
  ['a digest that is none', { files: [{ ...file, digest: 'undefined' }] }],
  ['no list', {}],
])('an answer with %s is none', async (_what, answer) => {
  await expect(filesOn(asking(answer), 'attic')).rejects.toThrow();
});

test('a refusal is no answer', async () => {
  await expect(filesOn(asking({ files: [] }, 500), 'attic')).rejects.toThrow('500');
});
