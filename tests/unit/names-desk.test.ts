import { beforeEach, expect, test, vi } from 'vitest';
import { editItem, fieldsOf, type Item, type ItemId } from '../../src/lib/core/items';
import { Library } from '../../src/lib/state/library.svelte';
import { NamesDesk } from '../../src/lib/state/names-desk.svelte';
import { Work } from '../../src/lib/state/work.svelte';
import { eventually } from '../helpers/eventually';
import { forgetAll } from '../helpers/fake-forage';
import { makeItem } from '../helpers/items';

vi.mock('localforage', () => import('../helpers/fake-forage'));
beforeEach(forgetAll);

async function deskOver(items: readonly Item[]) {
  const library = new Library('home');
  await library.load();
  library.put(items.map((item) => ({ id: item.id, before: null, after: item })));
  const desk = new NamesDesk({ library, work: new Work() });
  desk.begin(library.items);
  await eventually(() => expect(desk.rows).toHaveLength(items.length));
  return { library, desk };
}

const song = (id: string, name: string) =>
  makeItem(id, { title: 'Old' }, { settled: 'song', path: `in/${name}.flac` });

test('what was typed is not written over before the curator says so', async () => {
  const typed = editItem(song('b', '02 Neap'), { title: 'Typed by hand' });
  const { library, desk } = await deskOver([song('a', '01 Ebb'), typed]);
  expect(desk.rows.map((row) => [row.key, desk.isIn(row)])).toEqual([
    ['a', true],
    ['b', false],
  ]);
  desk.take();
  const title = (id: string) => fieldsOf(library.findAll([id as ItemId])[0] as Item).title;
  expect([title('a'), title('b')]).toEqual(['Ebb', 'Typed by hand']);
  await eventually(() => expect(desk.rows.find(({ key }) => key === 'a')?.edits).toEqual({}));
  desk.toggle(desk.rows.find(({ key }) => key === 'b') as (typeof desk.rows)[number]);
  desk.take();
  expect(title('b')).toBe('Neap');
});

test('a field that is to be read anew is taken, whoever said what it says', async () => {
  const typed = editItem(song('b', '02 Neap'), { title: 'Typed by hand' });
  const { library, desk } = await deskOver([typed]);
  desk.begin(library.items, 'title');
  await eventually(() => expect(desk.ready.map(({ edits }) => edits)).toEqual([{ title: 'Neap' }]));
});

test('patterns are proposed for what the files are', async () => {
  const film = (id: string, name: string) =>
    makeItem(id, {}, { settled: 'film', format: 'matroska', path: `in/${name}.mkv` });
  const { desk } = await deskOver([film('a', 'The Weir (1962)'), film('b', 'Slack Water (1971)')]);
  expect(desk.proposed[0]?.text).toBe(':title (:year)');
  expect(desk.rows.map(({ edits }) => edits)).toEqual([
    { title: 'Slack Water', date: '1971' },
    { title: 'The Weir', date: '1962' },
  ]);
});

test('a rule of noise that takes away what the pattern asks for is told', async () => {
  const { desk } = await deskOver([song('a', 'Ebb (1)'), song('b', 'Neap (2)')]);
  desk.setPattern(':title (:track)');
  await eventually(() => expect([...desk.clashes]).toEqual([['bracketedNumbers', 2]]));
  desk.toggleRule('bracketedNumbers');
  await eventually(() => expect([...desk.clashes]).toEqual([]));
});
