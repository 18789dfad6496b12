import type { APIRequestContext, Page } from '@playwright/test';
import { expect, test, type App } from './app';
import { pathsOn } from '../helpers/answers';

const FATHOM = 'Music/The Tidewrack Choir/Fathom Songs';
const FILES = [
  `${FATHOM}/1 - Sounding Line.mp3`,
  `${FATHOM}/2 - Undertow, Understood.mp3`,
  `${FATHOM}/3 - Nine Fathoms.mp3`,
  'Music/Orla Venn/Nine Lamps Burning/04 Wick.m4a',
];
const FERRY = 'Playlists/For the ferry.m3u8';
const url = (path: string) => `/devices/pocket/files/${path.split('/').map(encodeURIComponent).join('/')}`;

/** What a list on Pocket names, by the ends of its paths. */
async function namesIn(request: APIRequestContext, path = FERRY): Promise<string[]> {
  const text = await (await request.get(url(path))).text();
  return text.split(/\r?\n/).flatMap((line) => (line === '' || line.startsWith('#') ? [] : titleIn(line)));
}
const titleIn = (line: string) => /([A-Z][a-z]+[^/]*)\.\w+$/.exec(line)?.[1] ?? line;

/** Another hand writes a list on Pocket anew: its lines in another order, some of them, or others. */
async function rewrite(request: APIRequestContext, change: (lines: string[]) => string[]): Promise<void> {
  const text = await (await request.get(url(FERRY))).text();
  const lines = text.split('\r\n').filter((line) => line !== '' && !line.startsWith('#'));
  await request.delete(url(FERRY));
  await request.put(url(FERRY), {
    data: Buffer.from(change(lines).join('\n')),
    headers: { 'content-type': 'application/octet-stream' },
  });
}

async function addTo(page: Page, list: string) {
  await page.keyboard.press('p');
  await page.getByRole('combobox', { name: 'List', exact: true }).fill(list);
  await page.keyboard.press('Enter');
}

/** Two lists on Pocket: one of three songs by hand, and one by a rule. */
async function listsOnPocket(app: App, page: Page): Promise<void> {
  await app.open();
  await app.fillFolder(FILES);
  await app.takeInFolder();
  await app.finished(/4 files taken in/);
  await app.describeItems();
  for (const title of [/Sounding Line/, /Undertow/, /Nine Fathoms/]) {
    await app.row(title).click();
    await addTo(page, 'For the ferry');
    await expect(page.getByText(/1 item added to For the ferry/).first()).toBeVisible();
  }
  await app.station('Lists').click();
  await page.getByRole('button', { name: 'New list' }).click();
  await page.getByRole('button', { name: 'By rule' }).click();
  await page.getByLabel('Name of the list').fill('All there is');
  await page.keyboard.press('Enter');
  await app.station('Players').click();
  await page.getByRole('radio', { name: /^Pocket/ }).check();
  const add = page.getByRole('combobox', { name: 'Add a list to Pocket' });
  await add.selectOption('For the ferry');
  await add.selectOption('All there is');
}

const rule = (page: Page) => page.getByRole('region', { name: 'Lists on Pocket' });

/** What the list by hand holds, in its order. */
async function entries(app: App, page: Page): Promise<string[]> {
  await app.station('Lists').click();
  await page.getByRole('button', { name: /^For the ferry \d/ }).click();
  const rows = page.getByRole('region', { name: 'List For the ferry' }).getByRole('grid').getByRole('row');
  await expect(rows.first()).toBeVisible();
  return rows.evaluateAll((all) =>
    all
      .sort((a, b) => Number(a.getAttribute('aria-rowindex')) - Number(b.getAttribute('aria-rowindex')))
      .map((row) => row.querySelector('[role=gridcell]:nth-child(3) b')?.textContent ?? ''),
  );
}

test('two lists go to Pocket, are shown by it, and one that was changed there comes back merged', async ({
  app,
  page,
  request,
}) => {
  await listsOnPocket(app, page);
  await expect(rule(page).getByRole('button', { name: /For the ferry 3 entries/ })).toBeVisible();
  // A list that changes is rehearsed anew by itself.
  await app.describeItems();
  await app.row(/Wick/).click();
  await addTo(page, 'For the ferry');
  await app.station('Players').click();
  await expect(rule(page).getByRole('button', { name: /For the ferry 4 entries/ })).toBeVisible();
  await app.undo();
  await expect(rule(page).getByRole('button', { name: /For the ferry 3 entries/ })).toBeVisible();
  await app.run();
  await app.finished(/Pocket run finished: \d+ steps, none failed/);
  await expect(page.getByRole('region', { name: 'Proof' })).toContainText('and 2 lists as rehearsed');
  expect(await namesIn(request)).toEqual(['Sounding Line', 'Undertow, Understood', 'Nine Fathoms']);
  expect((await pathsOn(request, 'pocket')).filter((path) => path.startsWith('Playlists/'))).toHaveLength(2);

  // There the first goes and the last comes to the front; here another one is added.
  await rewrite(request, ([, second = '', third = '']) => [third, second]);
  await app.describeItems();
  await app.row(/Wick/).click();
  await addTo(page, 'For the ferry');
  await app.station('Players').click();
  await page.getByRole('radio', { name: 'merge' }).check();
  await page.getByRole('button', { name: 'Rehearse again' }).click();
  await expect(page.getByText('what was done there to 1 list')).toBeVisible();
  await app.run();
  await app.finished(/Pocket run finished/);
  const merged = ['Nine Fathoms', 'Undertow, Understood', 'Wick'];
  await expect.poll(() => namesIn(request)).toEqual(merged);
  expect(await entries(app, page)).toEqual(merged);

  // What the run brought goes with it.
  await app.station('Players').click();
  await page.getByRole('button', { name: 'Take back the run' }).click();
  await app.finished(/Run taken back/);
  expect(await namesIn(request)).toEqual(['Nine Fathoms', 'Undertow, Understood']);
  expect(await entries(app, page)).toEqual(['Sounding Line', 'Undertow, Understood', 'Nine Fathoms', 'Wick']);
});

test('what both sides did to the same entry waits, with both in sight', async ({ app, page, request }) => {
  await listsOnPocket(app, page);
  await page.getByRole('radio', { name: 'merge' }).check();
  await app.run();
  await app.finished(/Pocket run finished/);
  await rewrite(request, ([first = '', second = '', third = '']) => [second, third, first]);
  // Here it is removed, and there it was moved.
  await app.station('Lists').click();
  await page.getByRole('button', { name: /^For the ferry \d/ }).click();
  await page.getByRole('row', { name: /Sounding Line/ }).click();
  await page.keyboard.press('Delete');
  await app.station('Players').click();
  await page.getByRole('button', { name: 'Rehearse again' }).click();
  const finding = app.finding('The list For the ferry was changed on Pocket');
  await expect(finding).toContainText('1 entry was moved or removed on both sides in different ways');
  await finding.getByRole('button', { name: /The list For the ferry/ }).click();
  const row = finding.getByRole('row', { name: /Sounding Line/ });
  await expect(row.getByRole('cell').nth(0)).toHaveText('removed');
  await expect(row.getByRole('cell').nth(1)).toHaveText('number 3');
  await expect(rule(page).getByRole('button', { name: /changed there, needs your decision/ })).toBeVisible();
  await finding.getByRole('button', { name: 'Take Pocket’s' }).click();
  await expect(page.getByText('what was done there to 1 list')).toBeVisible();
  await app.run();
  await app.finished(/Pocket run finished/);
  expect(await entries(app, page)).toEqual(['Undertow, Understood', 'Nine Fathoms', 'Sounding Line']);
});

test('a list alone decides what Pocket has; what falls out of it is told, and let in', async ({
  app,
  page,
}) => {
  await listsOnPocket(app, page);
  await page.getByRole('button', { name: 'Remove All there is from Pocket' }).click();
  await page.getByRole('checkbox', { name: 'only items in these lists go there' }).check();
  await expect(page.getByRole('radio', { name: /^Pocket, ready 3 to add/ })).toBeVisible();
  await page.getByRole('checkbox', { name: 'songs' }).uncheck();
  const list = rule(page).getByRole('button', { name: /For the ferry none of its items go there/ });
  await list.click();
  await expect(rule(page)).toContainText('3 entries not in Pocket’s selection');
  await rule(page).getByRole('button', { name: 'Let them in' }).click();
  await expect(rule(page).getByRole('button', { name: /For the ferry 3 entries/ })).toBeVisible();
  await app.undo();
  await expect(list).toBeVisible();
  // After a reload it is as it was left.
  await app.kept('library');
  await page.reload();
  await page.getByRole('radio', { name: /^Pocket/ }).check();
  await expect(page.getByRole('checkbox', { name: 'only items in these lists go there' })).toBeChecked();
});
