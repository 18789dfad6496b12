import AxeBuilder from '@axe-core/playwright';
import { readFile } from 'node:fs/promises';
import { ALBUM, VIDEOS, expect, test } from './app';
import { filesOn } from '../helpers/answers';

test('edits, arrivals and settled kinds are there again after a reload', async ({ app, page }) => {
  await app.open();
  await app.fillFolder([...ALBUM.slice(0, 2), VIDEOS[1] as string]);
  await app.takeInFolder();
  await app.finished(/3 files taken in/);
  await page.getByRole('button', { name: 'Confirm Orla Venn - Harbour Bell.webm as music video' }).click();
  await app.describeItems();
  await app.row(/Kelp Road/).click();
  await app.field('genre').fill('sea choir');
  await app.field('genre').press('Enter');
  // What will be written behind is there once the indicator of the browser's storage agrees.
  await expect.poll(() => app.kept('said')).toContain('sea choir');
  await page.reload();
  await app.describeItems();
  await expect(app.row(/Kelp Road.*sea choir/)).toBeVisible();
  await app.station('Intake').click();
  await expect(app.row(/Harbour Bell/)).toBeVisible();
  await expect(page.getByText('all confirmed').first()).toBeVisible();
});

test('the same folder again adds only what is new or changed', async ({ app, page }) => {
  await app.open();
  await app.fillFolder(ALBUM.slice(0, 2));
  await app.takeInFolder();
  await app.finished(/2 files taken in/);
  await app.takeInFolder();
  await app.finished(/nothing new, 2 already in the library/);
  await app.fillFolder([ALBUM[2] as string, { path: ALBUM[0] as string, from: ALBUM[3] }]);
  await app.takeInFolder();
  await app.finished(/1 file taken in, 1 changed, 1 already in the library/);
  await expect(page.getByRole('button', { name: 'All 3' })).toBeVisible();
});

test('files without a folder are kept in the browser, and play after a reload', async ({ app, page }) => {
  await app.open();
  await page.getByLabel('Files to take in').setInputFiles([`demo/${ALBUM[0]}`, `demo/${ALBUM[1]}`]);
  await app.finished(/2 files taken in/);
  await page.reload();
  await app.row(/Kelp Road/).click();
  await page.getByRole('button', { name: 'Play the selected item' }).click();
  await expect(page.getByRole('button', { name: 'Pause' })).toBeVisible();
  await expect(page.getByRole('slider', { name: 'Place' })).toBeVisible();
});

test('a folder is taken in through an input where the browser gives no handles', async ({ app, page }) => {
  await page.addInitScript(() => Reflect.deleteProperty(window, 'showDirectoryPicker'));
  await app.open();
  const choosing = page.waitForEvent('filechooser');
  await app.takeInFolder();
  await (await choosing).setFiles('demo/Music/The Tidewrack Choir');
  await app.finished(/The Tidewrack Choir: 10 files taken in/);
  await app.row(/01 Inventory of Gulls/).click();
  await expect(
    page.getByRole('complementary').getByText('Salt Ledger/01 Inventory of Gulls.flac', { exact: true }),
  ).toBeVisible();
});

test('dropped files are taken in, and what is no media is set aside', async ({ app, page }) => {
  await app.open();
  await page.evaluate(async (path) => {
    const bytes = await (
      await fetch(`/demo-files/${path.split('/').map(encodeURIComponent).join('/')}`)
    ).blob();
    const transfer = new DataTransfer();
    transfer.items.add(new File([bytes], 'kelp.flac'));
    transfer.items.add(new File(['a letter'], 'letter.txt'));
    const drop = (type: string) =>
      window.dispatchEvent(new DragEvent(type, { dataTransfer: transfer, cancelable: true }));
    drop('dragover');
    drop('drop');
  }, ALBUM[1] as string);
  await app.finished(/dropped files: 1 file taken in/);
  await expect(app.row(/kelp\.flac/)).toBeVisible();
  await expect(page.getByText(/1\s+set aside/)).toBeVisible();
});

test('undo and redo any edit by name', async ({ app, page }) => {
  await app.open();
  await app.fillFolder(ALBUM.slice(0, 3));
  await app.takeInFolder();
  await app.finished(/3 files taken in/);
  await app.describeItems();
  // The board before has a grid too, until this one is there.
  await page.getByRole('grid', { name: 'Items by release' }).focus();
  await page.keyboard.press('Control+a');
  const date = app.field('date');
  await date.fill('1999');
  await date.press('Enter');
  await expect(app.row(/Kelp Road.*1999/)).toBeVisible();
  await page.getByRole('grid').focus();
  await page.keyboard.press('Control+z');
  await app.finished(/Undone: date of 3/);
  await expect(app.row(/Kelp Road.*2019/)).toBeVisible();
  await page.keyboard.press('Control+Shift+z');
  await expect(app.row(/Kelp Road.*1999/)).toBeVisible();
});

test('a selection of several shows what differs, and only what is typed changes', async ({ app, page }) => {
  await app.open();
  await app.fillFolder(ALBUM);
  await app.takeInFolder();
  await app.finished(/5 files taken in/);
  await app.describeItems();
  await app.row(/^\S*\s*Salt Ledger|Salt Ledger.*5 items/).click();
  const card = page.getByRole('complementary', { name: 'Card' });
  await expect(card.getByRole('heading', { name: '5 items' })).toBeVisible();
  await expect(card.getByText('1 empty', { exact: true })).toBeVisible();
  await expect(card.getByText('1 differ', { exact: true }).first()).toBeVisible();
  const date = card.getByLabel('date', { exact: true });
  await date.fill('soon');
  await date.press('Enter');
  await expect(card.getByText('date is no date such as 2024, 2024-05 or 2024-05-31')).toBeVisible();
  await date.press('Escape');
  await card.getByLabel('composer', { exact: true }).fill('Maren Lind');
  await card.getByLabel('composer', { exact: true }).press('Enter');
  await app.row(/The Harbour Clerk/).click();
  await expect(card.getByLabel('composer', { exact: true })).toHaveValue('Maren Lind');
  await expect(card.getByLabel('title', { exact: true })).toHaveValue('The Harbour Clerk');
  await card.getByRole('button', { name: 'Restore composer from the file' }).click();
  await expect(card.getByLabel('composer', { exact: true })).toHaveValue('');
});

test('a picture is set from a file, goes into the copies, and beside them', async ({
  app,
  page,
  request,
}) => {
  await app.open();
  await app.fillFolder(['Music/Orla Venn/Nine Lamps Burning/04 Wick.m4a']);
  await app.takeInFolder();
  await app.finished(/1 file taken in/);
  await app.row(/Wick/).click();
  const card = page.getByRole('complementary', { name: 'Card' });
  const png = await page.evaluate(async () => {
    const canvas = new OffscreenCanvas(700, 700);
    const pen = canvas.getContext('2d') as OffscreenCanvasRenderingContext2D;
    pen.fillStyle = 'teal';
    pen.fillRect(0, 0, 700, 700);
    return [...new Uint8Array(await (await canvas.convertToBlob()).arrayBuffer())];
  });
  await card
    .getByLabel('Picture file')
    .setInputFiles({ name: 'x.png', mimeType: 'image/png', buffer: Buffer.from(png) });
  await expect(card.getByText('700×700, JPEG')).toBeVisible();
  await expect(card.getByRole('img', { name: 'Front of the release' })).toBeVisible();
  await card
    .getByLabel('Picture file')
    .setInputFiles({ name: 'no.png', mimeType: 'image/png', buffer: Buffer.from('no picture') });
  await expect(card.getByRole('alert')).toContainText('no.png: the browser cannot show this picture');
  await app.station('Players').click();
  await app.run();
  await app.finished(/none failed/);
  const files = await filesOn(request, 'attic');
  expect(files.map(({ path }) => path).sort()).toEqual([
    'Music/Orla Venn/Nine Lamps Burning (2016)/1-04 Wick.m4a',
    'Music/Orla Venn/Nine Lamps Burning (2016)/sleeve.jpg',
  ]);
});

test('a library goes out as a file and comes in elsewhere', async ({ app, page, browser }) => {
  await app.open();
  await page.getByLabel('Files to take in').setInputFiles(ALBUM.slice(0, 2).map((path) => `demo/${path}`));
  await app.finished(/2 files taken in/);
  await app.row(/Kelp Road/).click();
  await app.field('genre').fill('sea choir');
  await app.field('genre').press('Enter');
  const coming = page.waitForEvent('download');
  await page.keyboard.press('Control+k');
  await page.getByRole('combobox', { name: 'Find or do' }).pressSequentially('export');
  await page.keyboard.press('Enter');
  const file = await readFile(await (await coming).path());

  const elsewhere = await browser.newContext({ baseURL: new URL(page.url()).origin });
  const other = await elsewhere.newPage();
  await other.goto('/home/intake');
  const choose = async (buffer: Buffer) => {
    const choosing = other.waitForEvent('filechooser');
    await other.keyboard.press('Control+k');
    await other.getByRole('combobox', { name: 'Find or do' }).pressSequentially('read a library');
    await other.keyboard.press('Enter');
    await (await choosing).setFiles({ name: 'library.zip', mimeType: 'application/zip', buffer });
  };
  await other.getByRole('heading', { name: 'Take in your files' }).waitFor();
  await choose(Buffer.from('no zip'));
  const dock = other.getByRole('contentinfo').getByRole('status');
  await expect(dock).toContainText('could not be read: it is no ZIP file. Nothing was changed.');
  await choose(file);
  await expect(dock).toContainText('2 items read');
  await other.getByRole('row', { name: /Kelp Road/ }).click();
  await expect(other.getByLabel('genre', { exact: true })).toHaveValue('sea choir');
  await elsewhere.close();
});

test('two tabs do not overwrite each other', async ({ app, page, context }) => {
  await app.open();
  await app.fillFolder(ALBUM.slice(0, 1));
  await app.takeInFolder();
  await app.finished(/1 file taken in/);
  const second = await context.newPage();
  await second.goto('/home/describe');
  await expect(second.getByText('Another tab works on this library.')).toBeVisible();
  await second.getByRole('group', { name: 'What the rows are' }).getByText('Items').click();
  await second.getByRole('row', { name: /Inventory/ }).click();
  await second.getByRole('combobox', { name: 'genre', exact: true }).fill('lost');
  await second.getByRole('combobox', { name: 'genre', exact: true }).press('Enter');
  await expect(second.getByRole('row', { name: /Inventory.*choral/ })).toBeVisible();
  await second.getByRole('button', { name: 'Work here instead' }).click();
  await expect(second.getByText('Another tab works on this library.')).toHaveCount(0);
  await expect(page.getByText('Another tab works on this library.')).toBeVisible();
  await second.getByRole('combobox', { name: 'genre', exact: true }).fill('kept');
  await second.getByRole('combobox', { name: 'genre', exact: true }).press('Enter');
  await expect(second.getByRole('row', { name: /Inventory.*kept/ })).toBeVisible();
});

test('the demo lies in a library of its own, and its faults are found', async ({ app, page }) => {
  await app.open();
  await page.getByRole('button', { name: 'Load the demo' }).click();
  await app.finished(/Skerry House: 63 files taken in, 1 file beside them used, 3 could not be read/);
  await app.station('Players').click();
  for (const text of [
    'Salt Ledger would be split over 3 shelves',
    'Skerry House Evenings would be split over 2 shelves',
    'Picture of 800×520 pixels in',
    'The sidecar Kelp Road (film).slip matches no video',
    /names? adjusted by rule/,
    /without a picture/,
  ])
    await app.seeFinding(text);
  // Each folder's picture is a finding of its own, and mending one leaves the others.
  await page.getByRole('button', { name: /^warns/ }).click();
  const shapes = app.finding('Picture of 800×520');
  const before = await shapes.count();
  await shapes.first().getByRole('button', { name: 'Make it square' }).click();
  await expect(shapes).toHaveCount(before - 1);
  await app.open('intake', 'home');
  await expect(page.getByRole('heading', { name: 'Take in your files' })).toBeVisible();
});

test.describe('for everyone', () => {
  for (const theme of ['chalk', 'lamp']) {
    test(`axe finds nothing on any board, ${theme}`, async ({ app, page }) => {
      test.slow();
      await page.addInitScript((name) => localStorage.setItem('lectorum-theme', name), theme);
      const check = async (where: string) => {
        const axe = new AxeBuilder({ page }).setLegacyMode();
        // All but the colours is one for both themes.
        if (theme === 'lamp') axe.withRules(['color-contrast']);
        const { violations } = await axe.analyze();
        expect(
          violations.map(
            ({ id, nodes }) => `${where}: ${id} ${nodes.map(({ html }) => html.slice(0, 120)).join(' | ')}`,
          ),
        ).toEqual([]);
      };
      await app.open();
      await check('empty intake');
      await app.fillFolder([...ALBUM, ...VIDEOS, 'Drop/empty.flac']);
      await app.takeInFolder();
      await app.finished(/7 files taken in/);
      await app.row(/Harbour Bell/).click();
      await check('intake');
      await page.getByRole('button', { name: /not read/ }).click();
      await check('unread');
      const toolbar = page.getByRole('toolbar', { name: 'Take in from' });
      for (const [source, ready] of [
        ['Disc', 'Put a disc in'],
        ['Feeds', 'address'],
        ['Remote shelf', 'Short Measure'],
        ['Watched folder', 'Kind of all folders'],
      ] as const) {
        await toolbar.getByRole('button', { name: source }).click();
        await expect(page.getByLabel(ready).first()).toBeVisible();
        await check(source);
      }
      await page.getByRole('button', { name: 'Back to the arrivals' }).click();
      await page.getByRole('button', { name: 'Fields from names' }).click();
      await expect(page.getByLabel('pattern', { exact: true })).toBeVisible();
      await check('names');
      await page.getByRole('button', { name: 'Back to the arrivals' }).click();
      await page.getByRole('button', { name: 'Check', exact: true }).click();
      await expect(page.getByRole('button', { name: /^Check \d+ items$/ })).toBeVisible();
      await check('check');
      await page.getByRole('button', { name: 'Back to the arrivals' }).click();
      await app.station('Identify').click();
      await expect(app.row(/Salt Ledger/)).toBeVisible();
      await check('sets');
      await app
        .row(/Salt Ledger/)
        .getByRole('button')
        .click();
      await page.getByRole('listbox').getByRole('option').first().click();
      await expect(page.getByRole('radio', { name: /Salt Ledger/ }).first()).toBeVisible();
      await page.getByRole('button', { name: 'What will be written' }).click();
      await check('identify');
      await app.describeItems();
      await app.row(/The Harbour Clerk/).click();
      await expect(page.getByRole('button', { name: 'Join 2' })).toBeVisible();
      await check('describe');
      await app.station('Players').click();
      await expect(app.finding(/would be split over/)).toBeVisible();
      await check('players');
      await page.keyboard.press('?');
      await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible();
      await check('keys');
    });
  }

  test('the whole of intake goes by keyboard', async ({ app, page }) => {
    await app.open();
    await app.fillFolder([...ALBUM.slice(0, 2), ...VIDEOS]);
    await app.takeInFolder();
    await app.finished(/4 files taken in/);
    await page.getByRole('grid', { name: 'Arrivals' }).focus();
    await page.keyboard.press('End');
    await page.keyboard.press('Shift+ArrowUp');
    await expect(page.getByRole('complementary').getByRole('heading', { name: '2 items' })).toBeVisible();
    await page.keyboard.press('Home');
    await page.keyboard.press('ArrowLeft');
    await expect(page.getByRole('grid').getByRole('row')).toHaveCount(2);
    await page.keyboard.press('ArrowRight');
    await page.keyboard.press('Shift+Enter');
    await expect(app.station('Intake')).toContainText('all confirmed');
    for (const [key, board] of [
      ['2', /identify/],
      ['3', /describe/],
      ['4', /prepare/],
      ['5', /lists/],
      ['6', /players/],
    ] as const) {
      await page.keyboard.press(key);
      await expect(page).toHaveURL(board);
    }
  });
});

test('a first visit needs under 250 kB of compressed script, workers included', async ({ app, page }) => {
  let total = 0;
  // Of the context: a page tells nothing of what its workers load.
  page.context().on('response', (response) => {
    if (!/\.js($|\?)/.test(response.url())) return;
    void response
      .request()
      .sizes()
      .then(({ responseBodySize }) => (total += responseBodySize));
  });
  await app.open();
  await expect(page.getByRole('heading', { name: 'Take in your files' })).toBeVisible();
  await page.waitForLoadState('networkidle');
  expect(total).toBeGreaterThan(20_000);
  test.info().annotations.push({ type: 'script', description: `${total} bytes` });
  expect(total).toBeLessThan(250_000);
});

test('a tab that takes over ends the other tab’s run after its step, and takes it up', async ({
  app,
  page,
  context,
  request,
}) => {
  await app.open();
  await app.fillFolder(ALBUM);
  await app.takeInFolder();
  await app.finished(/5 files taken in/);
  await app.station('Players').click();
  let release: () => void = () => undefined;
  const gate = new Promise<void>((resolve) => (release = resolve));
  let held = true;
  const reached = new Promise<void>((resolve) => {
    void context.route('**/devices/attic/files/**', async (route) => {
      const isUpload = route.request().method() === 'PUT' && route.request().url().includes('.flac');
      if (isUpload && held) {
        held = false;
        resolve();
        await gate;
      }
      await route.continue();
    });
  });
  await app.run();
  await reached;
  const second = await context.newPage();
  await second.goto('/home/players');
  await second.getByRole('button', { name: 'Work here instead' }).click();
  await expect(page.getByText('Another tab works on this library.')).toBeVisible();
  await expect(second.getByText('Resume the last run or take it back first.')).toBeVisible();
  await expect(second.getByRole('button', { name: /^Run \d+ steps?$/ })).toBeDisabled();
  await expect(page.getByRole('button', { name: /^Run \d+ steps?$/ })).toBeDisabled();
  await second.getByRole('button', { name: 'Resume the run' }).click();
  release();
  await expect(second.getByRole('contentinfo').getByRole('status')).toHaveText(
    /Attic run finished: \d+ steps, none failed/,
    { timeout: 120_000 },
  );
  const files = await filesOn(request, 'attic');
  expect(files.filter(({ path }) => path.endsWith('.flac'))).toHaveLength(5);
  await context.unrouteAll({ behavior: 'ignoreErrors' });
});
