import type { Page } from '@playwright/test';
import { spawnSync } from 'node:child_process';
import { readFile } from 'node:fs/promises';
import { hasFfmpeg, withFile } from '../helpers/foreign-readers';
import { ALBUM, expect, test, type App } from './app';

const source = (page: Page, name: RegExp) =>
  page.getByRole('toolbar', { name: 'Take in from' }).getByRole('button', { name });
/** Opens a source's work surface on an empty library. */
async function openSource(page: Page, name: string): Promise<void> {
  await page.getByRole('button', { name, exact: true }).click();
}
/** Ties a watched folder with one file, in the list Choral. */
async function watchChoral(app: App, page: Page): Promise<void> {
  await app.open();
  await app.fillFolder([{ path: 'Choral/one.flac', from: ALBUM[0] as string }], 'lectorum-watched');
  await openSource(page, 'a watched folder');
  await page.getByRole('button', { name: 'Watch a folder' }).click();
  await app.finished(/1 file taken in/);
}
const back = (page: Page) => page.getByRole('button', { name: 'Back to the arrivals' }).click();

/** The samples of a file, as a decoder that is not ours reads them: 16 bits, as it stores them. */
const samplesOf = (bytes: Uint8Array, extension: string): Buffer =>
  withFile(
    bytes,
    extension,
    (path) =>
      spawnSync('ffmpeg', ['-v', 'error', '-i', path, '-f', 's16le', '-'], { maxBuffer: 1 << 28 }).stdout,
  );

test.describe('disc', () => {
  test.beforeEach(async ({ page }) => void (await page.request.delete('/disc')));

  test('a disc that the reference knows is named by its lengths and taken in, then ejected', async ({
    app,
    page,
  }) => {
    await app.open();
    await openSource(page, 'a disc');
    await page.getByLabel('Put a disc in').selectOption('Lights Along the Sound');
    await expect(page.getByText('One release matches its track lengths')).toBeVisible();
    await expect(page.getByRole('cell', { name: 'The Sector Between' })).toBeVisible();
    await page.getByLabel('Track 2').uncheck();
    await page.getByLabel('Track 4').uncheck();
    await page.getByRole('button', { name: 'Take in 3 tracks' }).click();
    await expect(page.getByRole('status').filter({ hasText: /times as fast as it plays/ })).toBeVisible();
    await expect(page.getByText('Finished: 3 of 3 tracks taken in.')).toBeVisible();
    await page.getByRole('button', { name: 'Eject' }).last().click();
    await expect(page.getByText('the tray is empty')).toBeVisible();
    await back(page);
    await app.row(/03 The Sector Between\.flac/).click();
    await expect(app.field('album artist')).toHaveValue('Halyard & Daughters');
    await expect(
      page.getByRole('complementary', { name: 'Card' }).getByText('came from a disc'),
    ).toBeVisible();
    await expect(page.getByText('matched to Lights Along the Sound')).toBeVisible();
    await expect(page.getByText(/^FLAC, .*sound FLAC/)).toBeVisible();

    await test.step('FLAC holds the samples of the disc, bit for bit', async () => {
      if (!hasFfmpeg) return;
      await page.request.put('/disc', { data: { disc: 'lights' } });
      const track = await (await page.request.get('/disc/tracks/3')).body();
      const downloading = page.waitForEvent('download');
      await page.getByRole('button', { name: 'Save a finished copy' }).click();
      const stored = await readFile(await (await downloading).path());
      const [now, then] = [samplesOf(stored, 'flac'), samplesOf(track, 'wav')];
      expect(then.length).toBeGreaterThan(1_000_000);
      expect(now.equals(then)).toBe(true);
    });
  });

  test('where two releases fit, the curator is asked; a home-made mix is named in one go', async ({
    app,
    page,
  }) => {
    await app.open();
    await openSource(page, 'a disc');
    await page.getByLabel('Put a disc in').selectOption('Tin Chapel');
    await expect(page.getByText('2 releases match: which one is it?')).toBeVisible();
    await expect(page.getByText('no name yet')).toHaveCount(4);
    await page.getByRole('radio', { name: /Mono/ }).check();
    await expect(page.getByRole('cell', { name: 'Rain on It' })).toBeVisible();
    await page.getByRole('button', { name: 'Eject' }).click();
    await page.getByLabel('Put a disc in').selectOption('for the boat, summer');
    await expect(page.getByText('No reference knows this disc')).toBeVisible();
    await page.getByLabel('album', { exact: true }).fill('For the Boat');
    await page.getByLabel('titles').fill('Orla Venn - Wick\nDag Holme - Neap\nThree');
    await page.getByLabel('stored as').selectOption('WAV');
    const names = page.getByLabel('named by');
    await names.fill(':album/{');
    await expect(page.getByText(/has no matching }/)).toBeVisible();
    await expect(page.getByRole('button', { name: 'Take in 5 tracks' })).toBeDisabled();
    await names.fill('Mixes/:album/:artist, :title|track');
    await expect(page.getByText('Mixes/For the Boat/Orla Venn, Wick.wav', { exact: true })).toBeVisible();
    await page.getByRole('button', { name: 'Take in 5 tracks' }).click();
    await expect(page.getByText('Finished: 5 of 5 tracks taken in.')).toBeVisible({ timeout: 120_000 });
    await back(page);
    await app.row(/Dag Holme, Neap\.wav/).click();
    await expect(app.field('artist')).toHaveValue('Dag Holme');
    await expect(app.field('album')).toHaveValue('For the Boat');
    await expect(page.getByLabel('compilation', { exact: true })).toHaveValue('yes');
  });

  test('a damaged track does not stop the others, and cancelling keeps what is whole', async ({
    app,
    page,
  }) => {
    await app.open();
    await openSource(page, 'a disc');
    await page.getByLabel('Put a disc in').selectOption('Nine Knots, a long scratch across it');
    // A track that is taken before the disc is known keeps its number for a name.
    await expect(page.getByRole('cell', { name: 'Cast Log' })).toBeVisible();
    await page.getByRole('button', { name: 'Take in 4 tracks' }).click();
    await expect(page.getByText('Finished: 3 of 4 tracks taken in, 1 could not be read')).toBeVisible({
      timeout: 120_000,
    });
    await back(page);
    await page.getByRole('button', { name: /1 file not read/ }).click();
    await expect(page.getByText(/the disc is damaged: it could be read to 4\d %/)).toBeVisible();
    await page.getByRole('button', { name: /1 file not read/ }).click();
    await page.getByRole('button', { name: /^Take back/ }).click();
    await expect(app.row(/Cast Log/)).toHaveCount(0);
    await app.undo();
    await expect(app.row(/Cast Log/)).toBeVisible();
  });
});

test.describe('remote shelf', () => {
  test('an artist’s albums come under names that are seen before, and nothing comes twice', async ({
    app,
    page,
  }) => {
    await app.open();
    await openSource(page, 'a remote shelf');
    await page.getByLabel(/address of a track/).fill('/shelf/artists/cato-lund');
    await page.getByRole('button', { name: 'Look', exact: true }).click();
    await expect(page.getByLabel(/Owner’s Copy/)).toBeDisabled();
    const coming = page.getByRole('region', { name: 'What will be fetched' });
    await expect(coming.getByText('Cato Lund/Second Tide (2018)/')).toBeVisible();
    await page.getByLabel('names by the pattern').fill(':artist/:albm');
    await expect(coming.getByText('unknown field albm at letter 9')).toBeVisible();
    await page.getByLabel('names by the pattern').fill(':artist/:album/:track. :title');
    await expect(coming.getByText('03. The Cleat - The Bollard.mp3')).toBeVisible();
    await page.getByRole('button', { name: /Fetch 6 tracks/ }).click();
    await app.finished(/Boathouse: 6 files taken in/);
    await expect(coming.getByText('here already')).toHaveCount(6);
    await expect(page.getByRole('button', { name: /Fetch 0 tracks/ })).toBeDisabled();
    await back(page);
    await app.row(/03\. The Cleat/).click();
    await expect(app.field('title')).toHaveValue('The Cleat / The Bollard');
    await expect(app.field('album artist')).toHaveValue('Cato Lund');
  });

  test('a shelf that sends fewer bytes than it said: the others come, and only the rest is asked for again', async ({
    app,
    page,
  }) => {
    const ranges: string[] = [];
    page.on('request', (request) => {
      if (request.url().includes('/shelf/files/'))
        ranges.push(`${request.url().split('/').pop()} ${request.headers().range}`);
    });
    await app.open();
    await openSource(page, 'a remote shelf');
    await page.getByLabel(/Short Measure/).check();
    await page.getByLabel(/Gangplank/).check();
    await page.getByRole('button', { name: /Fetch 2 tracks/ }).click();
    await app.finished(/1 file taken in, 1 could not be read/);
    await expect(page.getByText(/62.7 kB of 104 kB here already/)).toBeVisible();
    await page.getByRole('button', { name: /Fetch 1 track,/ }).click();
    await app.finished(/1 could not be read/);
    expect(ranges.filter((range) => range.startsWith('gangplank'))).toHaveLength(1);
    expect(ranges.at(-1)).toBe('short-measure bytes=62689-104482');
    await back(page);
    await page.getByRole('button', { name: /not read/ }).click();
    await expect(page.getByText(/the shelf sent 62689 of 104483 bytes and no more/).first()).toBeVisible();
  });

  test('tracks are put into a list before they are fetched, and become items in their places', async ({
    app,
    page,
  }) => {
    await app.open();
    await openSource(page, 'a remote shelf');
    await page.getByLabel(/Gangplank/).check();
    await page.getByLabel('List for 1 track').fill('Crossing');
    await page.getByRole('button', { name: 'Add 1 track to a list, unfetched' }).click();
    await expect(page.getByText('1 item added to Crossing').first()).toBeVisible();
    // Once more it is there already.
    await page.getByLabel('List for 1 track').fill('crossing');
    await page.getByRole('button', { name: 'Add 1 track to a list, unfetched' }).click();
    await expect(page.getByText(/Nothing added: Crossing/).first()).toBeVisible();
    await app.station('Lists').click();
    await page.getByRole('button', { name: /^Crossing/ }).click();
    const shown = page.getByRole('region', { name: 'List Crossing' });
    await expect(shown.getByRole('row', { name: /Gangplank/ })).toContainText('not fetched yet');
    await shown.getByRole('button', { name: 'Fetch 1 entry' }).click();
    await app.finished(/1 of 1 entry of Crossing fetched/);
    await expect(shown.getByRole('row', { name: /Gangplank/ })).not.toContainText('not fetched yet');
    await expect(shown.getByRole('button', { name: /^Fetch/ })).toHaveCount(0);
    // Undone, it waits again; fetched again, what is here already does not come twice.
    await app.undo();
    await expect(shown.getByRole('row', { name: /Gangplank/ })).toContainText('not fetched yet');
    await shown.getByRole('button', { name: 'Fetch 1 entry' }).click();
    await expect(shown.getByRole('button', { name: /^Fetch/ })).toHaveCount(0);
    await expect.poll(() => app.kept('library')).not.toContain('"track":"gangplank"');
    await page.reload();
    await app.station('Lists').click();
    await page.getByRole('button', { name: /^Crossing 1/ }).click();
    await shown.getByRole('row', { name: /Gangplank/ }).click();
    await expect(app.field('title')).toHaveValue('Gangplank');
  });

  test('a wrong address says so', async ({ app, page }) => {
    await app.open();
    await openSource(page, 'a remote shelf');
    for (const address of ['/shelf/albums/none', 'nonsense']) {
      await page.getByLabel(/address of a track/).fill(address);
      await page.getByRole('button', { name: 'Look', exact: true }).click();
      await expect(page.getByRole('alert')).toContainText(`${address} could not be read`);
    }
  });
});

test.describe('feeds', () => {
  const follow = async (page: Page, address: string) => {
    await page.getByLabel('address', { exact: true }).fill(address);
    await page.getByRole('button', { name: 'Follow', exact: true }).click();
  };

  test('episodes come with show, number, day, words, picture and chapters', async ({ app, page }) => {
    await app.open();
    await openSource(page, 'a podcast feed');
    await follow(page, '/feeds/slack-water');
    await expect(page.getByText('3 new of 3')).toBeVisible();
    await page.getByRole('button', { name: 'Fetch The Price of Coal in Winter' }).click();
    await app.finished(/Slack Water: 1 file taken in/);
    await page.getByRole('button', { name: 'Fetch all 2 new' }).click();
    await app.finished(/Slack Water: 2 files taken in/);
    await expect(page.getByRole('button', { name: 'Nothing new' })).toBeDisabled();
    await back(page);
    await app.row(/034 The Price of Coal/).click();
    const card = page.getByRole('complementary', { name: 'Card' });
    await expect(card.getByText('Surely podcast episode')).toBeVisible();
    await expect(app.field('show')).toHaveValue('Slack Water');
    await expect(app.field('season')).toHaveValue('3');
    await expect(app.field('episode')).toHaveValue('34');
    await expect(app.field('date')).toHaveValue('2024-06-07');
    await expect(app.field('description')).toHaveValue(/Three who carried it[^]*- Ledger of 1951/);
    await expect(card.getByText('600×600, JPEG')).toBeVisible();
    await expect(card.getByText('The long stair')).toBeVisible();
    await card.getByRole('button', { name: 'Chapters', exact: true }).click();
    await expect(
      page.getByRole('row', { name: /The long stair/ }).getByAltText('has a picture'),
    ).toBeVisible();
    await expect(page.getByRole('row', { name: /Sacks/ }).getByAltText('has a picture')).toHaveCount(0);
    await page.reload();
    await app.station('Intake').click();
    await expect(source(page, /Feeds/)).toContainText('1 kept, 0 new');
  });

  test('torn, exploding and huge feeds give what can be had and say what is wrong', async ({ app, page }) => {
    await app.open();
    await openSource(page, 'a podcast feed');
    await follow(page, '/feeds/torn');
    await expect(page.getByText('It is not well-formed XML; what could be read is shown.')).toBeVisible();
    await expect(page.getByRole('cell', { name: /^Every Ship but One/ })).toBeVisible();
    await follow(page, '/feeds/entities');
    await expect(page.getByText(/It declares 4 entities of its own. They are not expanded/)).toBeVisible();
    await follow(page, '/feeds/huge');
    await expect(page.getByText('It is larger than 8 MB and was cut off there')).toBeVisible();
    await follow(page, '/feeds/none');
    await expect(page.getByRole('alert')).toContainText('/feeds/none: status 404');
    await follow(page, '/home/intake');
    await expect(page.getByRole('alert')).toContainText('this is a page, not a feed');
  });

  test('subscriptions come from a file', async ({ app, page }) => {
    await app.open();
    await openSource(page, 'a podcast feed');
    const opml = await (await page.request.get('/feeds')).body();
    await page
      .getByLabel('Feed or list of feeds')
      .setInputFiles({ name: 'shows.opml', mimeType: 'text/x-opml', buffer: opml });
    await expect(page.getByRole('list', { name: 'Followed feeds' }).getByRole('listitem')).toHaveCount(2);
  });
});

test.describe('watched folder', () => {
  const change = (page: Page, act: 'add' | 'move' | 'remove', path: string, to = '') =>
    page.evaluate(
      async ([what, from, target]) => {
        const root = await (
          await navigator.storage.getDirectory()
        ).getDirectoryHandle('lectorum-watched', { create: true });
        const at = async (full: string) => {
          const parts = full.split('/');
          const name = parts.pop() as string;
          let folder = root;
          for (const part of parts) folder = await folder.getDirectoryHandle(part, { create: true });
          return { folder, name };
        };
        const { folder, name } = await at(from);
        if (what === 'remove') return folder.removeEntry(name, { recursive: true });
        if (what === 'move') {
          const goal = await at(target);
          const file = (await folder.getFileHandle(name)) as FileSystemFileHandle & {
            move(to: FileSystemDirectoryHandle, name: string): Promise<void>;
          };
          return file.move(goal.folder, goal.name);
        }
        const blob = await (
          await fetch(`/demo-files/${target.split('/').map(encodeURIComponent).join('/')}`)
        ).blob();
        const writable = await (await folder.getFileHandle(name, { create: true })).createWritable();
        await writable.write(blob);
        await writable.close();
      },
      [act, path, to] as const,
    );
  const list = (page: Page, name: string) =>
    page.getByRole('row').filter({ has: page.getByText(name, { exact: true }) });

  test('one act ties a tree; what lands, moves and vanishes is followed', async ({ app, page }) => {
    await app.open();
    await app.fillFolder(
      [
        { path: 'Choral/one.flac', from: ALBUM[0] as string },
        { path: 'Choral/two.flac', from: ALBUM[1] as string },
        { path: 'Shanties/Deep/three.flac', from: ALBUM[2] as string },
      ],
      'lectorum-watched',
    );
    await openSource(page, 'a watched folder');
    await page.getByLabel('Kind of all folders').selectOption('song');
    await page.getByRole('button', { name: 'Watch a folder' }).click();
    await app.finished(/3 files taken in/);
    await expect(list(page, 'Choral').getByRole('cell').nth(1)).toHaveText('2');
    await expect(page.getByLabel('Genre of Shanties/Deep')).toHaveValue('Deep');

    await test.step('a new file and a new folder are noticed', async () => {
      await page.getByLabel('Genre of Choral').fill('sea choir');
      await page.getByLabel('Genre of Choral').press('Enter');
      await change(page, 'add', 'Choral/thrown.mp3', 'Drop/from the old laptop/audio_1.mp3');
      await change(page, 'add', 'Reels/reel.mp3', 'Drop/from the old laptop/audio_2.mp3');
      await page.getByRole('button', { name: 'Check now' }).click();
      await expect(list(page, 'Choral').getByRole('cell').nth(1)).toHaveText('3');
      await expect(list(page, 'Reels').getByRole('cell').nth(1)).toHaveText('1');
    });

    await test.step('a moved file changes its list and stays one item', async () => {
      await change(page, 'move', 'Choral/one.flac', 'Reels/one.flac');
      await page.getByRole('button', { name: 'Check now' }).click();
      await expect(list(page, 'Reels').getByRole('cell').nth(1)).toHaveText('2');
      await expect(list(page, 'Choral').getByRole('cell').nth(1)).toHaveText('2');
      await page.getByRole('button', { name: /Open the list Reels/ }).click();
      await expect(page.getByRole('list', { name: 'List Reels' })).toContainText('Inventory of Gulls');
      await expect(page.getByRole('button', { name: 'All 5', exact: true })).toBeVisible();
    });

    await test.step('a vanished file is told, and nothing is lost', async () => {
      await change(page, 'remove', 'Choral/two.flac');
      await page.getByRole('button', { name: 'Check now' }).click();
      await app.finished(/1 missing from their folder/);
      await expect(list(page, 'Choral').getByRole('cell').nth(1)).toHaveText('1');
    });

    await back(page);
    await app.row(/thrown\.mp3/).click();
    await expect(app.field('genre')).toHaveValue('sea choir');
    await expect(
      page.getByRole('complementary', { name: 'Card' }).getByText('folder rule: songs', { exact: true }),
    ).toBeVisible();
    await expect(
      page.getByRole('complementary', { name: 'Card' }).getByRole('button', { name: 'Choral', exact: true }),
    ).toBeVisible();
    await app.row(/two\.flac/).click();
    await expect(page.getByText(/missing from its folder since/)).toBeVisible();
  });

  test('what changed while Lectorum was closed is noticed at its next start; a folder that vanishes takes nothing along', async ({
    app,
    page,
  }) => {
    await watchChoral(app, page);
    await page.goto('/favicon.svg');
    await change(page, 'add', 'Choral/later.mp3', 'Drop/from the old laptop/audio_1.mp3');
    await app.open();
    await app.finished(/1 file taken in/);
    await expect(app.row(/later\.mp3/)).toBeVisible();
    await page.evaluate(async () =>
      (await navigator.storage.getDirectory()).removeEntry('lectorum-watched', { recursive: true }),
    );
    await source(page, /Watched folder/).click();
    await page.getByRole('button', { name: 'Check now' }).click();
    await expect(page.getByRole('alert')).toContainText('is missing. Its items and lists stay as they are');
    await expect(page.getByRole('button', { name: 'All 2', exact: true })).toBeVisible();
  });

  test('a file that lands while Lectorum is open comes by itself', async ({ app, page }) => {
    await watchChoral(app, page);
    await change(page, 'add', 'Choral/landed.mp3', 'Drop/from the old laptop/audio_1.mp3');
    await expect(list(page, 'Choral').getByRole('cell').nth(1)).toHaveText('2');
  });

  test('a list of a watched folder says what it gives and what came last; watching stops and begins there', async ({
    app,
    page,
  }) => {
    await watchChoral(app, page);
    await app.station('Lists').click();
    await page.getByRole('button', { name: /^Choral from folders/ }).click();
    const shown = page.getByRole('region', { name: 'List Choral' });
    await expect(shown).toContainText('lectorum-watched/Choral');
    await expect(shown).toContainText('genre Choral');
    await expect(shown).toContainText(/1 file on \d+ \w+ \d{4}/);
    await shown.getByRole('button', { name: 'Stop watching lectorum-watched' }).click();
    await expect(shown).toContainText('new files in the folder are not taken in');
    await change(page, 'add', 'Choral/landed.mp3', 'Drop/from the old laptop/audio_1.mp3');
    await shown.getByRole('button', { name: 'Watch lectorum-watched again' }).click();
    await expect(shown.getByRole('group', { name: 'Totals' })).toContainText('2 entries');
    // Left and come back to, it is the same list.
    await app.station('Intake').click();
    await app.station('Lists').click();
    await expect(shown).toContainText('lectorum-watched/Choral');
  });

  test('a file that goes from one watched tree to another stays one item and changes its list', async ({
    app,
    page,
  }) => {
    await watchChoral(app, page);
    await page.evaluate(async () => {
      const root = await navigator.storage.getDirectory();
      const second = await root.getDirectoryHandle('second', { create: true });
      await second.getDirectoryHandle('Reels', { create: true });
      window.showDirectoryPicker = async () => second;
    });
    await page.getByRole('button', { name: 'Watch a folder' }).click();
    await expect(page.getByRole('region', { name: 'second' })).toBeVisible();
    await page.evaluate(async () => {
      const root = await navigator.storage.getDirectory();
      const from = await (await root.getDirectoryHandle('lectorum-watched')).getDirectoryHandle('Choral');
      const to = await (await root.getDirectoryHandle('second')).getDirectoryHandle('Reels');
      const file = (await from.getFileHandle('one.flac')) as FileSystemFileHandle & {
        move(to: FileSystemDirectoryHandle, name: string): Promise<void>;
      };
      await file.move(to, 'one.flac');
    });
    await page.getByRole('region', { name: 'second' }).getByRole('button', { name: 'Check now' }).click();
    await expect(list(page, 'Reels').getByRole('cell').nth(1)).toHaveText('1');
    await expect(list(page, 'Choral').getByRole('cell').nth(1)).toHaveText('0');
    await expect(page.getByRole('button', { name: 'All 1', exact: true })).toBeVisible();
  });
});

test('a folder’s kind is set by rule, learnt from a correction, and let go again', async ({ app, page }) => {
  const from = 'Books/Wreckmasters Daughters/00.mp3';
  await app.open();
  await app.fillFolder([
    { path: 'a/one.mp3', from },
    { path: 'a/two.mp3', from: 'Books/Wreckmasters Daughters/01.mp3' },
  ]);
  await app.takeInFolder();
  await app.finished(/2 files taken in/);
  const card = page.getByRole('complementary', { name: 'Card' });
  await app.row(/one\.mp3/).click();
  await page.getByLabel('Another kind').selectOption('podcast episode');
  await app.row(/two\.mp3/).click();
  await expect(card.getByText('you set others here to podcast episodes')).toBeVisible();
  await app.row(/one\.mp3/).click();
  await page.getByRole('button', { name: 'Treat this folder as podcast episodes' }).click();
  await app.row(/two\.mp3/).click();
  await expect(card.getByText('folder rule: podcast episodes', { exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Remove the folder rule: podcast episodes' }).click();
  await expect(card.getByText('folder rule: podcast episodes', { exact: true })).toHaveCount(0);
});
