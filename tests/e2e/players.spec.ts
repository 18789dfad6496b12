import { readFileSync } from 'node:fs';
import { parseBuffer } from 'music-metadata';
import AxeBuilder from '@axe-core/playwright';
import { layOutDevices, tagOf } from '../../scripts/demo/devices.mjs';
import { readPictureSize } from '../../src/lib/formats/picture-size';
import { makePng } from '../helpers/picture-bytes';
import { expect, test, type App } from './app';
import { pathsOn } from '../helpers/answers';

const SONGS = [1, 2, 3, 5].map((track) => {
  const title = ['Sounding Line', 'Undertow, Understood', 'Nine Fathoms', '', 'Slack Before Storm'][
    track - 1
  ];
  return `Music/The Tidewrack Choir/Fathom Songs/${track} - ${title}.mp3`;
});
const ALBUM = 'Music/The Tidewrack Choir/Salt Ledger';
const FLAC = `${ALBUM}/01 Inventory of Gulls.flac`;

async function onPlayers(app: App, paths: readonly string[]): Promise<void> {
  await app.open();
  await app.fillFolder([...paths]);
  await app.takeInFolder();
  await app.finished(/taken in/);
  await app.station('Players').click();
}

test('three players are rehearsed at once, and each is run to by its own rules', async ({
  app,
  page,
  request,
}) => {
  await onPlayers(app, [...SONGS, FLAC]);
  const player = (name: RegExp) => page.getByRole('radio', { name });
  await expect(player(/^Attic, ready 5 to add/)).toBeChecked();
  await expect(player(/^Galley, ready 4 to add/)).toBeVisible();
  await player(/^Galley/).check();
  await expect(page.getByRole('heading', { name: 'Rehearsal for Galley' })).toBeVisible();
  await expect(app.finding('1 song needs a twin')).toContainText('Galley does not play 1 FLAC');
  await app.run();
  await app.finished(/Galley run finished: \d+ steps, none failed/);
  await expect(page.getByRole('region', { name: 'Proof' })).toContainText('Galley shows all 4 as rehearsed');
  expect((await pathsOn(request, 'galley')).filter((path) => path.endsWith('.mp3'))).toEqual(
    ['01 Sounding Line', '02 Undertow, Understood', '03 Nine Fathoms', '05 Slack Before Storm'].map(
      (name) => `choral/The Tidewrack Choir - Fathom Songs/${name}.mp3`,
    ),
  );
  await expect(player(/^Pocket, ready 4 to add/)).toBeVisible();
  await page.reload();
  await page.getByRole('radio', { name: /^Galley, behind 1 item not copied/ }).check();
  await expect(page.getByRole('button', { name: 'Nothing to run' })).toBeVisible();
});

test('what a player is to have is chosen by kind and words, undone by name, and goes when it is chosen no more', async ({
  app,
  page,
  request,
}) => {
  await onPlayers(app, SONGS);
  await page.getByRole('radio', { name: /^Pocket/ }).check();
  const card = page.getByRole('complementary', { name: 'Card' });
  await card.getByLabel('only items that match').fill('fathoms nine');
  await card.getByLabel('only items that match').press('Enter');
  await expect(page.getByRole('radio', { name: /^Pocket, ready 1 to add/ })).toBeVisible();
  await app.run();
  await app.finished(/Pocket run finished/);
  expect(await pathsOn(request, 'pocket')).toEqual([
    'Music/The Tidewrack Choir/Fathom Songs/03 Nine Fathoms.mp3',
  ]);
  await card.getByRole('checkbox', { name: 'songs' }).uncheck();
  await expect(page.getByRole('radio', { name: /^Pocket, ready 1 to remove/ })).toBeVisible();
  await page.getByRole('button', { name: 'Undo selection of Pocket' }).click();
  await expect(page.getByRole('radio', { name: /^Pocket, current as planned/ })).toBeVisible();
});

test('a player is added with a rulebook from a file, that is changed, and taken off again', async ({
  app,
  page,
}) => {
  await onPlayers(app, SONGS);
  await page.getByRole('button', { name: 'Add a player' }).click();
  const dialog = page.getByRole('dialog', { name: 'Add a player' });
  await dialog.getByLabel('from a JSON file').check();
  const rulebook = JSON.parse(readFileSync('src/lib/rulebooks/galley.json', 'utf8')) as object;
  const file = (content: object) => ({
    name: 'cove.json',
    mimeType: 'application/json',
    buffer: Buffer.from(JSON.stringify(content)),
  });
  await dialog.getByLabel('Rulebook file').setInputFiles(file({ ...rulebook, places: [] }));
  await expect(dialog.getByRole('alert')).toContainText('places');
  await expect(dialog.getByRole('button', { name: 'Add it' })).toBeDisabled();
  await dialog
    .getByLabel('Rulebook file')
    .setInputFiles(file({ ...rulebook, id: 'cove', name: 'Cove', about: 'swim player' }));
  await dialog.getByLabel('What is it called?').fill('Cove of Dag');
  await dialog.getByRole('button', { name: 'Add it' }).click();
  await expect(page.getByRole('radio', { name: /^Cove of Dag, ready 4 to add/ })).toBeChecked();
  // It is kept, and its rulebook can be changed.
  await page.reload();
  await page.getByRole('radio', { name: /^Cove of Dag/ }).check();
  await page.getByRole('button', { name: 'Show rulebook' }).click();
  const book = page.getByRole('dialog', { name: 'The rulebook of Cove of Dag' });
  await expect(book).toContainText('songs, audiobooks as MP3');
  await book.getByRole('button', { name: 'as JSON' }).click();
  const text = book.getByLabel('Rulebook as JSON');
  const before = await text.inputValue();
  await text.fill(before.replace('"id": "cove",', '"id" "cove",'));
  await book.getByRole('button', { name: 'Use this rulebook' }).click();
  await expect(book.getByRole('alert')).toContainText(/line \d+, column \d+/);
  await text.fill(before.replace('Books/', 'Read/').replace(':genre|kind/', 'Sound/'));
  await book.getByRole('button', { name: 'Use this rulebook' }).click();
  await expect(page.getByRole('region', { name: 'Paths' })).toContainText('Sound/');
  await page.getByRole('button', { name: 'Remove Cove of Dag' }).click();
  await expect(page.getByRole('radio', { name: /^Cove of Dag/ })).toHaveCount(0);
});

test('what goes beside the files of a new player is called as the curator says', async ({ app, page }) => {
  await onPlayers(app, SONGS);
  await page.getByRole('button', { name: 'Add a player' }).click();
  const dialog = page.getByRole('dialog', { name: 'Add a player' });
  await dialog.getByLabel('as Galley').check();
  await expect(dialog.getByLabel('What is it called?')).toHaveAttribute('placeholder', 'Galley two');
  const album = dialog.getByLabel('Name of a picture in each folder of songs and audiobooks, called');
  await expect(album).toHaveValue('front.jpg');
  await album.fill('album');
  await dialog.getByLabel('a picture in each top folder of songs and audiobooks, called').first().uncheck();
  await dialog.getByRole('button', { name: 'Add it' }).click();
  await expect(dialog.getByRole('alert')).toContainText('ends in .jpg');
  await album.fill('album.jpg');
  await dialog.getByRole('button', { name: 'Add it' }).click();
  await expect(page.getByRole('radio', { name: /^Galley two, ready/ })).toBeChecked();
  const card = page.getByRole('complementary', { name: 'Card' });
  await expect(card.getByRole('row', { name: /^Write picture 1$/ })).toBeVisible();
  await page.getByRole('button', { name: 'Show rulebook' }).click();
  await expect(page.getByRole('dialog')).toContainText('album.jpg');
});

test('a player that reads old tags and small pictures, and takes three files a folder, gets just that', async ({
  app,
  page,
  request,
}) => {
  await onPlayers(app, SONGS);
  await page.getByRole('radio', { name: /^Pocket/ }).check();
  await page.getByRole('button', { name: 'Show rulebook' }).click();
  const book = page.getByRole('dialog', { name: 'The rulebook of Pocket' });
  await book.getByRole('button', { name: 'as JSON' }).click();
  const text = book.getByLabel('Rulebook as JSON');
  const rulebook = JSON.parse(await text.inputValue()) as { tags: object; disk: object };
  const disk = { ...rulebook.disk, filesInFolder: 3, alphabet: 'ascii' };
  const asked = { encoding: 'latin1', picture: { pixels: 100, bytes: 20_000 } };
  await text.fill(JSON.stringify({ ...rulebook, tags: { ...rulebook.tags, ...asked }, disk }));
  await book.getByRole('button', { name: 'Use this rulebook' }).click();
  await expect(app.finding('1 item does not fit in its folder')).toContainText('3 files in a folder');
  await page.getByRole('button', { name: 'Show rulebook' }).click();
  await expect(book).toContainText('names only in ASCII');
  await expect(book).toContainText('text in ISO 8859-1 only; pictures up to 100 pixels and 20 kB');
  await book.getByRole('button', { name: 'Close' }).click();
  await app.run();
  await app.finished(/Pocket run finished: \d+ steps, none failed/);
  const [path, ...others] = (await pathsOn(request, 'pocket')).filter((one) => one.endsWith('.mp3'));
  expect(others).toHaveLength(2);
  const bytes = new Uint8Array(await (await request.get(`/devices/pocket/files/${path}`)).body());
  const { common, native } = await parseBuffer(bytes);
  expect(common.title).toBe('Sounding Line');
  const [picture] = common.picture ?? [];
  const { width, height } = readPictureSize(picture?.data ?? new Uint8Array()) ?? { width: 0, height: 0 };
  expect(Math.max(width, height)).toBe(100);
  expect(Object.keys(native)).toContain('ID3v2.3');
  // No text is written in UTF-16, with its mark.
  expect(Buffer.from(bytes.subarray(0, 4000)).includes(Buffer.from([1, 0xff, 0xfe]))).toBe(false);
  await expect(page.getByRole('region', { name: 'Proof' })).toContainText('as rehearsed');
});

test('what has no room stays out by its importance, and says so', async ({ app, page, request }) => {
  // All that Pocket has left for media, but for two songs of this album.
  const large = Buffer.alloc(58_700_000);
  await request.put('/devices/pocket/files/DCIM/film.raw', {
    data: large,
    headers: { 'content-type': 'application/octet-stream' },
  });
  await onPlayers(app, SONGS);
  await page.getByRole('radio', { name: /^Pocket, ready/ }).check();
  await expect(app.finding('No room for 2 items')).toBeVisible();
  await app.run();
  await app.finished(/Pocket run finished: \d+ steps, none failed/);
  await expect(app.finding('No room for 2 items')).toBeVisible();
  await expect(page.getByRole('radio', { name: /^Pocket, full .* do not fit/ })).toBeChecked();
  expect((await pathsOn(request, 'pocket')).filter((path) => path.endsWith('.mp3'))).toHaveLength(2);
});

test('a player that was away is planned for as it was seen, and is synced by itself when it comes', async ({
  app,
  page,
  request,
}) => {
  test.slow();
  await onPlayers(app, SONGS.slice(0, 3));
  await page.getByRole('radio', { name: /^Pocket/ }).check();
  await app.run();
  await app.finished(/Pocket run finished/);
  // One song leaves the library, and another gets another title; then it goes away.
  await app.describeItems();
  await app.row(/Nine Fathoms/).click();
  await page.keyboard.press('Delete');
  await app.row(/Sounding Line/).click();
  await app.field('title').fill('Sounding Lead');
  await app.field('title').press('Enter');
  // Opening the board looks at the players: it goes away behind that look.
  const looked = page.waitForResponse(/devices\/pocket\/files$/);
  await app.station('Players').click();
  await (await looked).finished();
  await expect(page.getByRole('radio', { name: /^Pocket, ready 1 to add, 2 to remove/ })).toBeVisible();
  await expect(page.getByRole('button', { name: /^Run \d+ steps?$/ })).toBeEnabled();
  await request.put('/devices/pocket/manner', { data: { away: true } });
  await page.getByRole('button', { name: /^Run \d+ steps?$/ }).click();
  await app.finished(/Pocket does not answer/);
  await expect(page.getByRole('alert').filter({ hasText: 'Pocket does not answer' })).toContainText(
    'as it was when it was last seen',
  );
  await expect(page.getByRole('radio', { name: /^Pocket, away 1 to add, 2 to remove/ })).toBeVisible();
  await page.getByLabel('update automatically when it is connected').check();
  await request.put('/devices/pocket/manner', { data: {} });
  const at = (name: string) => `Music/The Tidewrack Choir/Fathom Songs/${name}.mp3`;
  await expect
    .poll(() => pathsOn(request, 'pocket'), { timeout: 120_000 })
    .toEqual([
      at('01 Sounding Lead'),
      at('01 Sounding Line'),
      at('02 Undertow, Understood'),
      at('03 Nine Fathoms'),
    ]);
  await expect(page.getByRole('radio', { name: /^Pocket, ready .*to remove/ })).toBeVisible();
  // What only removes waits, also when it is opened again, and the last run can still be taken back.
  await page.reload();
  await page.getByRole('radio', { name: /^Pocket, ready .*to remove/ }).check();
  await expect(page.getByRole('button', { name: 'Take back the run' })).toBeEnabled();
  expect(await pathsOn(request, 'pocket')).toHaveLength(4);
});

test('the demo’s phone went its own way: both sides arrive, the conflict is decided, and all of it is taken back', async ({
  app,
  page,
  request,
}) => {
  test.slow();
  layOutDevices(app.devices, true);
  const before = await pathsOn(request, 'pocket');
  expect(before).toHaveLength(6);
  await app.open('intake', 'demo');
  await app.finished(/taken in/);
  await app.station('Players').click();
  await page.getByRole('radio', { name: /^Pocket/ }).check();
  await page.getByRole('radio', { name: 'merge' }).check();
  const conflict = app.finding('1 file changed here and on Pocket');
  await conflict.getByRole('button', { name: '1 file changed here' }).click();
  await expect(conflict.getByRole('row', { name: /title/ }).getByRole('cell').nth(1)).toHaveText(
    'Undertow, Overlooked',
  );
  await expect(page.getByText('First, into the library: 3 files taken in')).toBeVisible();
  await conflict.getByRole('button', { name: 'Keep Pocket’s' }).click();
  await expect(conflict).toHaveCount(0);
  await app.run();
  await app.finished(/Pocket run finished: \d+ steps, none failed/);
  await app.describeItems();
  const narrow = page.getByLabel('Narrow by any field');
  for (const name of ['Gangplank', 'Undertow, Overlooked']) {
    await narrow.fill(name);
    await expect(app.row(new RegExp(name)).first()).toBeVisible();
  }
  const after = await pathsOn(request, 'pocket');
  expect(after).toContain('Music/gangplank.mp3');
  expect(after.some((path) => path.includes('Lamp Song'))).toBe(false);
  await app.station('Players').click();
  await page.getByRole('button', { name: 'Take back the run' }).click();
  await app.finished(/Run taken back/);
  expect(await pathsOn(request, 'pocket')).toEqual(before);
  await app.describeItems();
  await narrow.fill('Gangplank');
  await expect(page.getByText('0 in scope')).toBeVisible();
});

test('files that would get one name are told apart by what they are, and it can be undone', async ({
  app,
  page,
}) => {
  const tag = tagOf({
    TIT2: 'Sounding Line',
    TPE1: 'Cato Lund',
    TPE2: 'Cato Lund',
    TALB: 'Ropes',
    TRCK: '1',
    TYER: '2020',
  });
  const bytes = [...tag, ...readFileSync('stand-ins/boathouse/gangplank.mp3')];
  await app.open();
  await app.fillFolder([
    { path: 'one/Sounding Line.mp3', bytes },
    { path: 'two/Sounding Line again.mp3', bytes: [...bytes, ...bytes.slice(-20_000)] },
  ]);
  await app.takeInFolder();
  await app.finished(/2 files taken in/);
  await app.station('Players').click();
  const collision = app.finding('2 files would all be called');
  await expect(collision).toContainText('one/Sounding Line.mp3');
  await expect(collision).toContainText('two/Sounding Line again.mp3');
  await expect(collision).toContainText('kbit/s');
  await collision.getByRole('button', { name: 'Number the files' }).click();
  await expect(collision).toHaveCount(0);
  await expect(page.getByRole('region', { name: 'Paths' })).toContainText('01 Sounding Line (2).mp3');
  await page.getByRole('button', { name: 'Undo number the files' }).click();
  await expect(collision).toBeVisible();
});

test('both sides are decided file by file', async ({ app, page, request }) => {
  await onPlayers(app, SONGS);
  await page.getByRole('radio', { name: /^Pocket/ }).check();
  await app.run();
  await app.finished(/Pocket run finished/);
  const at = (name: string) =>
    `/devices/pocket/files/${`Music/The Tidewrack Choir/Fathom Songs/${name}.mp3`.split('/').map(encodeURIComponent).join('/')}`;
  for (const name of ['01 Sounding Line', '03 Nine Fathoms']) await request.delete(at(name));
  await page.getByRole('button', { name: 'Rehearse again' }).click();
  const removed = app.finding('2 items removed on Pocket since our run');
  await removed.getByRole('button', { name: '2 items removed' }).click();
  const one = removed.getByRole('listitem').filter({ hasText: '03 Nine Fathoms' });
  await one.getByRole('button', { name: 'as it is here' }).click();
  await expect(app.finding('1 item removed on Pocket since our run')).toBeVisible();
  await app.run();
  await app.finished(/Pocket run finished: \d+ steps?, none failed/);
  await expect.poll(() => pathsOn(request, 'pocket')).toHaveLength(3);
});

test('axe finds nothing in the dialogs of players, and they are worked by keyboard', async ({
  app,
  page,
}) => {
  await onPlayers(app, SONGS.slice(0, 1));
  const check = async () => {
    const { violations } = await new AxeBuilder({ page }).setLegacyMode().analyze();
    expect(
      violations.map(({ id, nodes }) => `${id} ${nodes.map(({ html }) => html.slice(0, 90)).join()}`),
    ).toEqual([]);
  };
  await page.getByRole('radio', { name: /^Attic, / }).focus();
  await page.keyboard.press('ArrowDown');
  await expect(page.getByRole('heading', { name: 'Rehearsal for Galley' })).toBeVisible();
  await page.getByRole('button', { name: 'Show rulebook' }).press('Enter');
  await expect(page.getByRole('dialog')).toBeVisible();
  await check();
  await page.getByRole('button', { name: 'as JSON' }).press('Enter');
  await check();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await page.getByRole('button', { name: 'Add a player' }).press('Enter');
  await expect(page.getByRole('dialog')).toBeVisible();
  await check();
});

test('one player is rehearsed and changed while a run goes to another', async ({ app, page, request }) => {
  await onPlayers(app, SONGS);
  await page.getByRole('radio', { name: /^Galley, ready 4 to add/ }).check();
  await expect(page.getByRole('button', { name: /^Run \d+ steps?$/ })).toBeEnabled();
  await request.put('/devices/galley/manner', { data: { stallMs: 250 } });
  await app.run();
  const running = page.getByRole('radio', { name: /^Galley, running/ });
  await expect(running).toBeVisible();
  await page.getByRole('radio', { name: /^Pocket/ }).check();
  await expect(page.getByRole('heading', { name: 'Rehearsal for Pocket' })).toBeVisible();
  await page.getByRole('button', { name: 'Rehearse again' }).click();
  const words = page.getByLabel('only items that match');
  await words.fill('fathoms nine');
  await words.press('Enter');
  await expect(page.getByRole('radio', { name: /^Pocket, ready 1 to add/ })).toBeVisible();
  await expect(running).toBeVisible();
  await request.put('/devices/galley/manner', { data: {} });
  await app.finished(/Galley run finished: \d+ steps, none failed/);
  expect((await pathsOn(request, 'galley')).filter((path) => path.endsWith('.mp3'))).toHaveLength(4);
});

test('by keyboard alone: from an empty library to the demo, its phone synced and the run taken back', async ({
  app,
  page,
  request,
}) => {
  test.slow();
  layOutDevices(app.devices, true);
  const before = await pathsOn(request, 'pocket');
  await app.open();
  await app.press(page.getByRole('button', { name: 'Load the demo' }));
  await app.finished(/Skerry House: 63 files taken in/);
  await app.press(app.station('Players'));
  await app.reach(page.getByRole('radio', { name: /^Attic, / }));
  await app.reach(page.getByRole('radio', { name: /^Pocket, / }), 'ArrowDown', 3);
  await expect(page.getByRole('heading', { name: 'Rehearsal for Pocket' })).toBeVisible();
  await app.reach(page.getByRole('radio', { name: 'ask me' }));
  await app.reach(page.getByRole('radio', { name: 'merge' }), 'ArrowUp', 3);
  const conflict = app.finding('1 file changed here and on Pocket');
  await app.press(conflict.getByRole('button', { name: '1 file changed here' }));
  await expect(conflict.getByRole('row', { name: /title/ })).toContainText('Undertow, Overlooked');
  await app.press(conflict.getByRole('button', { name: 'Keep Pocket’s' }));
  await expect(conflict).toHaveCount(0);
  await app.press(page.getByRole('button', { name: /^Run \d+ steps?$/ }));
  await app.finished(/Pocket run finished: \d+ steps, none failed/);
  expect(await pathsOn(request, 'pocket')).not.toEqual(before);
  await app.press(page.getByRole('button', { name: 'Take back the run' }));
  await app.finished(/Run taken back/);
  expect(await pathsOn(request, 'pocket')).toEqual(before);
});

test('a top folder gets the picture that the curator chose, until it is made from its albums again', async ({
  app,
  page,
  request,
}) => {
  await onPlayers(app, SONGS);
  await page.getByRole('radio', { name: /^Galley/ }).check();
  const card = page.getByRole('complementary', { name: 'Card' });
  const topFolder = card.getByRole('listitem').filter({ hasText: 'choral' });
  await expect(topFolder).toContainText('from Fathom Songs');
  await expect(topFolder.getByRole('img', { name: 'Picture of choral' })).toBeVisible();
  const choose = async (name: string, buffer: Buffer) => {
    const chooser = page.waitForEvent('filechooser');
    await topFolder.getByRole('button', { name: 'Choose a picture for choral' }).click();
    await (await chooser).setFiles({ name, mimeType: 'image/png', buffer });
  };
  await choose('no.png', Buffer.from('no picture'));
  await expect(card.getByRole('alert')).toContainText('no.png: the browser cannot show this picture');
  await choose('choir.png', Buffer.from(makePng(300, 300)));
  await expect(topFolder).toContainText('chosen for it');
  await app.run();
  await app.finished(/Galley run finished: \d+ steps, none failed/);
  const widthOf = async (path: string) => {
    const bytes = new Uint8Array(await (await request.get(`/devices/galley/files/${path}`)).body());
    return readPictureSize(bytes)?.width;
  };
  expect(await widthOf('choral/top.jpg')).toBe(300);
  expect(await widthOf('choral/The%20Tidewrack%20Choir%20-%20Fathom%20Songs/front.jpg')).toBe(800);
  await topFolder.getByRole('button', { name: 'Use an album picture for choral' }).click();
  await expect(topFolder).toContainText('from Fathom Songs');
  await app.run();
  await app.finished(/Galley run finished: 1 step, none failed/);
  expect(await widthOf('choral/top.jpg')).toBe(800);
});

test('the demo is loaded once, though it is asked for twice while it loads', async ({ app, page }) => {
  layOutDevices(app.devices, true);
  let answer = () => {};
  const asked = new Promise<void>((resolve) => (answer = resolve));
  await page.route(/\/demo-files$/, async (route) => {
    await asked;
    await route.continue();
  });
  await page.goto('/demo/intake');
  await page.getByRole('button', { name: 'Load the demo' }).click();
  answer();
  await app.finished(/63 files taken in/);
  await expect(app.station('Lists')).toContainText('2 lists');
  await app.station('Describe').click();
  await page.getByRole('group', { name: 'What the rows are' }).getByRole('button', { name: 'Items' }).click();
  await app.row(/Sounding Line/).click();
  await expect(page.getByRole('complementary', { name: 'Card' })).toContainText('Which lists is it in?');
  await expect(app.station('Lists')).toContainText('2 lists');
});
