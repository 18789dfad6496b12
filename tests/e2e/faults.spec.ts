import { ALBUM, VIDEOS, expect, test, type App } from './app';
import { filesOn } from '../helpers/answers';

async function albumOnPlayers(app: App, files: readonly string[] = ALBUM): Promise<void> {
  await app.open();
  await app.fillFolder(files);
  await app.takeInFolder();
  await app.finished(/taken in/);
  await app.station('Players').click();
}

test('files that cannot be read are listed with reason and remedy; the rest goes on', async ({
  app,
  page,
}) => {
  await app.open();
  await app.fillFolder([
    ALBUM[0] as string,
    { path: 'empty.mp3', bytes: [] },
    { path: 'letter.flac', bytes: [...new TextEncoder().encode('Dear Dag, the herring are in.')] },
    { path: 'wrong.mp3', from: ALBUM[1] },
    'Drop/kelp_road_half.flac',
  ]);
  await app.takeInFolder();
  await app.finished(/1 file taken in, 4 could not be read/);
  await page.getByRole('button', { name: /4 files not read/ }).click();
  const list = page.getByRole('list', { name: 'Files that were not read' });
  await expect(list.getByText('the file is empty')).toBeVisible();
  await expect(list.getByText('not a known audio or video file')).toBeVisible();
  await expect(list.getByText('it contains FLAC')).toBeVisible();
  await expect(list.getByText(/cut short/)).toBeVisible();
  await expect(list.getByText('rename it with the right extension and take it in again')).toBeVisible();
  await list.getByRole('button', { name: 'Take the readable part of Drop/kelp_road_half.flac' }).click();
  await app.finished(/kelp_road_half.flac: the readable part was taken in/);
  await expect(list.getByRole('listitem')).toHaveCount(3);
  await page.getByRole('button', { name: /3 files not read/ }).click();
  await app.row(/kelp_road_half/).click();
  await expect(
    page.getByText('The end of the file is missing; the readable part was taken in.'),
  ).toBeVisible();
});

test('a player that stops answering in the middle: the run stops, says so, and is resumed', async ({
  app,
  page,
  request,
}) => {
  await albumOnPlayers(app);
  let answered = 0;
  await page.context().route('**/devices/attic/files/**', async (route) => {
    if (route.request().method() === 'PUT' && ++answered > 6) await route.abort('connectionreset');
    else await route.continue();
  });
  await app.run();
  await app.finished(/Attic run stopped, it can be resumed/);
  await expect(
    page.getByText('the player does not answer; check that it is on, then resume').first(),
  ).toBeVisible();
  await page.context().unroute('**/devices/attic/files/**');
  await page.getByRole('button', { name: 'Resume the run' }).click();
  await app.finished(/Attic run finished: \d+ steps, none failed/);
  const files = await filesOn(request, 'attic');
  expect(files.filter(({ path }) => path.endsWith('.flac'))).toHaveLength(5);
});

test('a reload in the middle of a run loses nothing: it is resumed, and can be taken back', async ({
  app,
  page,
  request,
}) => {
  await albumOnPlayers(app);
  const held: (() => void)[] = [];
  const reached = new Promise<void>((resolve) => {
    let puts = 0;
    void page.context().route('**/devices/attic/files/**', async (route) => {
      if (route.request().method() === 'PUT' && ++puts === 7) {
        resolve();
        await new Promise<void>((go) => held.push(go));
        await route.abort().catch(() => undefined);
      } else await route.continue();
    });
  });
  await app.run();
  await reached;
  await page.reload();
  for (const go of held) go();
  await page.context().unrouteAll({ behavior: 'ignoreErrors' });
  await expect(page.getByText(/\d+ done, 0 failed, \d+ left/)).toBeVisible();
  await page.getByRole('button', { name: 'Resume the run' }).click();
  await app.finished(/Attic run finished/);
  await page.getByRole('button', { name: 'Take back the run' }).click();
  await app.finished(/Run taken back/);
  expect(await filesOn(request, 'attic')).toEqual([]);
});

test('a run whose worker is ended by the browser says so at once, and is resumed in place', async ({
  app,
  page,
}) => {
  await albumOnPlayers(app);
  let release: () => void = () => undefined;
  const gate = new Promise<void>((resolve) => (release = resolve));
  const reached = new Promise<void>((resolve) => {
    let puts = 0;
    void page.context().route('**/devices/attic/files/**', async (route) => {
      if (route.request().method() === 'PUT' && ++puts === 7) {
        resolve();
        await gate;
        await route.abort().catch(() => undefined);
      } else await route.continue();
    });
  });
  await app.run();
  await reached;
  for (const worker of page.workers())
    await worker.evaluate(() => {
      if (performance.getEntriesByName('run').length > 0) self.close();
    });
  await app.finished(/Attic: the run stopped, the worker ended; it can be resumed/);
  release();
  await page.context().unrouteAll({ behavior: 'ignoreErrors' });
  await page.getByRole('button', { name: 'Resume the run' }).click();
  await app.finished(/Attic run finished/);
});

test('storage that is deleted under the open page is told at once, and kept anew', async ({ app, page }) => {
  await app.open();
  await app.fillFolder(ALBUM);
  await app.takeInFolder();
  await app.finished(/5 files taken in/);
  await app.describeItems();
  await app.row(/Low Water/).click();
  await app.field('title').fill('High Water');
  await app.field('title').press('Enter');
  await expect.poll(() => app.kept('said')).toContain('High Water');
  await page.evaluate(async () => {
    for (const { name } of await indexedDB.databases()) if (name) indexedDB.deleteDatabase(name);
  });
  const notice = page.getByRole('alert').filter({ hasText: 'was deleted while it was open' });
  await expect(notice).toBeVisible();
  await expect.poll(() => app.kept('said')).toContain('High Water');
  await notice.getByRole('button', { name: 'Close' }).click();
  await expect(notice).toHaveCount(0);
  await app.row(/Kelp Road/).click();
  await app.field('title').fill('Kelp Lane');
  await app.field('title').press('Enter');
  await expect.poll(() => app.kept('said')).toContain('Kelp Lane');
  await page.reload();
  await app.describeItems();
  await expect(app.row(/High Water/)).toBeVisible();
  await expect(app.row(/Kelp Lane/)).toBeVisible();
  await expect(app.row(/Ballast Stone/)).toBeVisible();
});

test('a run is cancelled between two steps, and what is left is told', async ({ app, page }) => {
  await albumOnPlayers(app);
  let release: () => void = () => undefined;
  const gate = new Promise<void>((resolve) => (release = resolve));
  await page.context().route('**/devices/attic/files/**', async (route) => {
    if (route.request().method() === 'PUT' && route.request().url().endsWith('.flac')) await gate;
    await route.continue();
  });
  await app.run();
  await page.getByRole('button', { name: 'Cancel' }).click();
  release();
  await app.finished(/Attic run cancelled: \d+ steps? done, \d+ left/);
  await expect(page.getByRole('button', { name: 'Resume the run' })).toBeEnabled();
});

test('a file that the player always refuses is told with its reason, and trying again costs no way back', async ({
  app,
  page,
  request,
}) => {
  await albumOnPlayers(app);
  await page.context().route('**/devices/attic/files/**', async (route) => {
    const isOne =
      route.request().method() === 'PATCH' && (route.request().postData() ?? '').includes('Kelp Road');
    if (isOne) await route.fulfill({ status: 400, json: { message: 'no such names' } });
    else await route.continue();
  });
  await app.run();
  await app.finished(/1 failed/);
  const finding = app.finding('1 file could not be written to Attic by the last run');
  await expect(finding).toContainText('refused: no such names; change the name or leave it out');
  // Trying again does nothing: the run before is still the last.
  await app.run();
  await app.finished(/0 steps, 1 failed/);
  await page.getByRole('button', { name: 'Take back the run' }).click();
  await app.finished(/Run taken back/);
  expect(await filesOn(request, 'attic')).toEqual([]);
  await page.context().unrouteAll({ behavior: 'ignoreErrors' });
});

test('a folder where a file of ours would go is told, with a way out', async ({ app, page, request }) => {
  const path = 'Music/The Tidewrack Choir/Salt Ledger (2019)/02 Kelp Road.flac';
  await request.put(
    `/devices/attic/files/${`${path}/notes.txt`.split('/').map(encodeURIComponent).join('/')}`,
    {
      data: Buffer.from('notes'),
      headers: { 'content-type': 'application/octet-stream' },
    },
  );
  await albumOnPlayers(app);
  const finding = app.finding('1 folder of Attic’s own is in the way of a file');
  await expect(finding).toContainText(path);
  await finding.getByRole('button', { name: 'Leave 1 item out' }).click();
  await expect(finding).toHaveCount(0);
  await app.run();
  await app.finished(/none failed/);
  await expect(page.getByRole('button', { name: 'Nothing to run' })).toBeVisible();
});

test('what a run replaces comes back when it is taken back', async ({ app, page, request }) => {
  const path = 'Music/The Tidewrack Choir/Salt Ledger (2019)/01 Inventory of Gulls.flac';
  const url = `/devices/attic/files/${path.split('/').map(encodeURIComponent).join('/')}`;
  await request.put(url, {
    data: Buffer.from('what stood there before'),
    headers: { 'content-type': 'application/octet-stream' },
  });
  await albumOnPlayers(app, ALBUM.slice(0, 1));
  await app
    .finding('1 place occupied by files of Attic’s own')
    .getByRole('button', { name: 'Replace 1 file' })
    .click();
  await app.run();
  await app.finished(/none failed/);
  expect((await (await request.get(url)).body()).length).toBeGreaterThan(100_000);
  await page.getByRole('button', { name: 'Take back the run' }).click();
  await app.finished(/Run taken back/);
  expect(await (await request.get(url)).text()).toBe('what stood there before');
});

test('while a run that ended is still being proved, nothing can be begun that would be lost', async ({
  app,
  page,
  request,
}) => {
  await albumOnPlayers(app, ALBUM.slice(0, 1));
  let letGo = () => {};
  const held = new Promise<void>((done) => (letGo = done));
  await page.context().route('**/devices/attic/shelves', async (route) => {
    await held;
    await route.continue();
  });
  await app.run();
  await app.finished(/none failed/);
  const back = page.getByRole('button', { name: 'Take back the run' });
  await expect(back).toBeDisabled();
  letGo();
  await back.click();
  await app.finished(/Run taken back/);
  expect(await filesOn(request, 'attic')).toEqual([]);
});

test('hostile tags stay text, and go through to Attic', async ({ app, page }) => {
  await app.open();
  await app.fillFolder(ALBUM.slice(0, 2));
  await app.takeInFolder();
  await app.finished(/2 files taken in/);
  await app.describeItems();
  await app.row(/Inventory of Gulls/).click();
  const title = app.field('title');
  await title.fill('<script>document.title="x"</script><img src=x onerror=alert(1)> שלום');
  await title.press('Enter');
  await app.row(/Kelp Road/).click();
  await title.fill('long '.repeat(2000));
  await title.press('Enter');
  await expect(app.row(/<script>/)).toBeVisible();
  await app.station('Players').click();
  await app
    .finding(/longer than 200 bytes/)
    .getByRole('button', { name: 'Shorten 1 name' })
    .click();
  await expect(app.finding(/longer than/)).toHaveCount(0);
  await page.getByRole('button', { name: 'Reset decisions' }).click();
  await app
    .finding(/longer than 200 bytes/)
    .getByRole('button', { name: 'Shorten 1 name' })
    .click();
  await expect(page.getByText('Decided here: 1 name shortened.')).toBeVisible();
  await app.run();
  await app.finished(/none failed/);
  await expect(page.getByRole('region', { name: 'Proof' })).toContainText('Attic shows all 2 as rehearsed');
  expect(await page.title()).toBe('Players · Lectorum');
});

test('Attic away: the board says so, and the run waits', async ({ app, page }) => {
  await page.route('**/devices/attic/files', (route) => route.abort());
  await albumOnPlayers(app, VIDEOS.slice(0, 1));
  await expect(page.getByRole('alert').filter({ hasText: 'Attic does not answer' })).toBeVisible();
  await expect(page.getByRole('button', { name: /^Run/ })).toBeDisabled();
  await page.unroute('**/devices/attic/files');
  await page.getByRole('button', { name: 'Try again' }).click();
  await expect(page.getByRole('button', { name: /^Run/ })).toBeEnabled();
});

test('lines of findings stand below each other, whole, before and after one of them is mended', async ({
  app,
  page,
}) => {
  await albumOnPlayers(app, [...ALBUM, ...VIDEOS, 'Drop/from the old laptop/audio_1.mp3']);
  const lines = page.getByRole('list', { name: 'Findings' }).getByRole('listitem');
  const overlaps = () =>
    lines.evaluateAll((all) => {
      const boxes = all.map((one) => one.getBoundingClientRect()).sort((a, b) => a.top - b.top);
      return boxes.flatMap((box, index) => {
        const before = boxes[index - 1];
        return before && before.bottom > box.top + 0.5 ? [`${before.bottom} over ${box.top}`] : [];
      });
    });
  await expect(lines.nth(2)).toBeVisible();
  await expect.poll(overlaps).toEqual([]);
  const before = await lines.count();
  await app.mend('has no album artist').click();
  await expect.poll(() => lines.count()).toBeLessThan(before);
  await expect.poll(overlaps).toEqual([]);
  // What is said stands there whole.
  const cut = await page
    .getByRole('list', { name: 'Findings' })
    .locator('.why')
    .evaluateAll((all) => all.filter((one) => one.scrollHeight > one.clientHeight + 1).length);
  expect(cut).toBe(0);
});
