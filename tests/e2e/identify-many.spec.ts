import AxeBuilder from '@axe-core/playwright';
import type { Locator } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { expect, test, type App } from './app';

/** An MP3 file without its tags, ID3v2 at the front and ID3v1 at the end. */
function bare(path: string): Buffer {
  let bytes = readFileSync(path);
  while (bytes.toString('latin1', 0, 3) === 'ID3') {
    const size = [6, 7, 8, 9].reduce((sum, at) => sum * 128 + bytes.readUInt8(at), 0);
    bytes = bytes.subarray(10 + size);
  }
  const end = bytes.length - 128;
  return bytes.toString('latin1', end, end + 3) === 'TAG' ? bytes.subarray(0, end) : bytes;
}

const FATHOM = [
  '3 - Nine Fathoms',
  '1 - Sounding Line',
  '5 - Slack Before Storm',
  '2 - Undertow, Understood',
  '4 - Drowned Bell',
].map((name) => `demo/Music/The Tidewrack Choir/Fathom Songs/${name}.mp3`);
const EBB = [1, 2, 3, 4, 5, 6].map((index) => `demo/Drop/from the old laptop/audio_${index}.mp3`);
const UNKNOWN = [
  '01 Dag Holme - Ferry Waltz',
  '02 Orla Venn - Lamp Song',
  '04 Ines Marrable - Last Boat',
].map((name) => `demo/Music/Skerry House Evenings/${name}.mp3`);

/** Loose files without tags, of two releases and of none. */
async function takeInLoose(app: App): Promise<void> {
  const files = [...FATHOM, ...EBB, ...UNKNOWN].map(
    (file, index) => [`loose/${String.fromCharCode(97 + index)}.mp3`, bare(file)] as const,
  );
  await app.open();
  for (const [path, body] of files)
    await app.page.route(`**/demo-files/${path}`, (route) => route.fulfill({ body }));
  await app.fillFolder(files.map(([path]) => path));
  await app.takeInFolder();
  await app.finished(/14 files taken in/);
}

test('loose files of two releases are told by their sound, and described in two acts', async ({
  app,
  page,
}) => {
  await takeInLoose(app);
  await app.station('Identify').click(); // act 1
  const row = app.row(/loose/);
  await expect(row).toContainText('sure: 6 of Ebb Tables, 5 of Fathom Songs, 3 left over', {
    timeout: 60_000,
  });
  await expect(row).toContainText('by sound');
  await page.getByRole('button', { name: 'Accept the 1 that is sure' }).click(); // act 2
  await app.finished(/11 files of 2 releases described/);

  await test.step('what is left over is not offered a finished release', async () => {
    await expect(app.row(/loose/)).toContainText('3 files');
    await expect(page.getByText(/^asking about/)).toHaveCount(0);
    await expect(page.getByRole('button', { name: /sure/ })).toHaveCount(0);
    await expect(app.row(/loose/)).not.toContainText(/Ebb Tables|Fathom Songs/);
    await page.getByRole('button', { name: 'All', exact: false, pressed: false }).click();
    await expect(app.row(/Ebb Tables/)).toContainText('matched to a reference');
  });

  await test.step('one undo takes all of it back, also after a reload', async () => {
    await app.describeItems();
    await app.row(/Drowned Bell/).click();
    await expect(app.field('album')).toHaveValue('Fathom Songs');
    await expect(app.field('track')).toHaveValue('4');
    await app.undo();
    await expect(app.row(/Drowned Bell/)).toHaveCount(0);
    await expect.poll(() => app.kept('said')).not.toContain('Drowned Bell');
    await page.reload();
    await app.station('Identify').click();
    await expect(app.row(/loose/)).toContainText('5 of Fathom Songs', { timeout: 60_000 });
  });
});

/** A sound that nobody knows: tones in an order of its own. Seconds. */
function unknownSound(seed: number, seconds: number): Buffer {
  const rate = 8000;
  const samples = Buffer.alloc(rate * seconds * 2);
  let tone = 200;
  for (let at = 0; at < rate * seconds; at++) {
    if (at % 2000 === 0) tone = 200 + ((Math.floor(at / 2000) * (seed * 37 + 11)) % 23) * 40;
    samples.writeInt16LE(Math.round(9000 * Math.sin((2 * Math.PI * tone * at) / rate)), at * 2);
  }
  const head = Buffer.alloc(44);
  head.write('RIFF', 0);
  head.writeUInt32LE(36 + samples.length, 4);
  head.write('WAVEfmt ', 8);
  head.writeUInt32LE(16, 16);
  head.writeUInt16LE(1, 20);
  head.writeUInt16LE(1, 22);
  head.writeUInt32LE(rate, 24);
  head.writeUInt32LE(rate * 2, 28);
  head.writeUInt16LE(2, 32);
  head.writeUInt16LE(16, 34);
  head.write('data', 36);
  head.writeUInt32LE(samples.length, 40);
  return Buffer.concat([head, samples]);
}

test('loose files of six releases and twelve that nobody knows are told apart in two acts', async ({
  app,
  page,
}) => {
  const demo = (folder: string, names: readonly string[]) => names.map((name) => `demo/${folder}/${name}`);
  // In the order of a folder that was shuffled: none lies beside those of its release.
  const known = [
    ...FATHOM,
    ...EBB,
    ...demo('Music/The Tidewrack Choir/Salt Ledger', [
      ...['01 Inventory of Gulls.flac', '02 Kelp Road.flac', '03 The Harbour Clerk.flac'],
      ...['04 Low Water.flac', '05 Ballast Stone.flac'],
    ]),
    ...demo('Music/Orla Venn/Nine Lamps Burning', [
      ...['01 Who Goes There_.m4a', '02 Harbour Bell_ A Watch Song.m4a'],
      ...['03 Left _ Right of the Light.m4a', '04 Wick.m4a'],
    ]),
    ...demo('Music/Halyard & Daughters/Quiet Engines', [
      ...['01 Donkey Engine.opus', '02 Oil and Patience.ogg', '03 The Night Boiler.opus'],
      ...['04 Steam Up.wav', '05 Cold Iron.aiff'],
    ]),
    ...demo('Music/Skerry House Evenings', [
      ...['01 Dag Holme - Ferry Waltz.mp3', '02 Orla Venn - Lamp Song.mp3'],
      ...['03 The Tidewrack Choir - Kitchen Hymn.mp3', '04 Ines Marrable - Last Boat.mp3'],
    ]),
  ].map((file): [string, Buffer] => {
    const ending = file.slice(file.lastIndexOf('.'));
    return [ending, FATHOM.includes(file) || EBB.includes(file) ? bare(file) : readFileSync(file)];
  });
  const unknown = Array.from({ length: 12 }, (_, index): [string, Buffer] => [
    '.wav',
    unknownSound(index + 1, 61 + index * 3),
  ]);
  const all = [...known, ...unknown]
    .map((file, index) => ({ file, order: (index * 17) % 41 }))
    .sort((a, b) => a.order - b.order)
    .map(({ file: [ending, body] }, index) => ({ path: `loose/${index + 1}${ending}`, body }));
  expect(all).toHaveLength(41);
  await app.open();
  for (const { path, body } of all)
    await page.route(`**/demo-files/${path}`, (route) => route.fulfill({ body }));
  await app.fillFolder(all.map(({ path }) => path));
  await app.takeInFolder();
  await app.finished(/41 files taken in/);
  await app.station('Identify').click(); // act 1
  await expect(page.getByRole('button', { name: 'Accept all 4 that are sure' })).toBeVisible({
    timeout: 180_000,
  });
  await expect(app.row(/loose/)).toContainText('6 of Ebb Tables, 5 of Fathom Songs, 12 left over');
  await page.getByRole('button', { name: 'Accept all 4 that are sure' }).click(); // act 2
  await app.finished(/25 files of 5 releases described/);
  // Those that say enough of themselves were never asked about; what nobody knows stays as it is, in one set.
  await expect(app.row(/loose/)).toContainText('12 files');
  await app.station('Describe').click(); // act 3
  const releases = [
    ...['Fathom Songs The Tidewrack Choir 5', 'Ebb Tables Dag Holme 6', 'Salt Ledger The Tidewrack Choir 5'],
    ...[
      'Nine Lamps Burning Orla Venn 4',
      'Quiet Engines Halyard & Daughters 5',
      'Skerry House Evenings various 4',
    ],
  ];
  for (const release of releases)
    await expect(
      app.row(new RegExp(`${release} title: all of them maker: all of them release: all`)),
    ).toBeVisible();
});

test('Enter accepts a line-up and goes on to the next set', async ({ app, page }) => {
  await app.open();
  await app.fillFolder([
    ...EBB.map((path) => path.replace('demo/', '')),
    ...['00', '01', '02', '03'].map((name) => `Books/Wreckmasters Daughters/${name}.mp3`),
  ]);
  await app.takeInFolder();
  await app.finished(/10 files taken in/);
  await app.station('Identify').click();
  await expect(page.getByRole('button', { name: /that is sure|that are sure/ })).toBeVisible({
    timeout: 60_000,
  });
  await page.getByRole('button', { name: /Compare the first of 2/ }).click();
  const first = await page.getByRole('heading', { level: 1 }).textContent();
  await page.getByRole('listbox', { name: 'Files and the entries they match' }).press('Enter');
  await app.finished(/files described/);
  await expect(page.getByRole('heading', { level: 1 })).not.toHaveText(first ?? '');
  await expect(page.getByText('set 1 of 1 to identify')).toBeVisible();
});

test('only sets in sight are accepted together', async ({ app, page }) => {
  await app.open();
  await app.fillFolder([
    ...EBB.map((path) => path.replace('demo/', '')),
    ...['00', '01', '02', '03'].map((name) => `Books/Wreckmasters Daughters/${name}.mp3`),
  ]);
  await app.takeInFolder();
  await app.finished(/10 files taken in/);
  await app.station('Identify').click();
  await expect(page.getByRole('button', { name: 'Accept all 2 that are sure' })).toBeVisible({
    timeout: 60_000,
  });
  const field = page.getByRole('combobox', { name: 'Narrow by any field' });
  await field.fill('kind is song');
  await expect(app.row(/Wreckmasters/)).toHaveCount(0);
  await page.getByRole('button', { name: 'Accept the 1 that is sure' }).click();
  await app.finished(/6 files of 1 release described/);
  await field.fill('');
  await expect(app.row(/Wreckmasters/)).toContainText('sure:');
  await expect(page.getByRole('button', { name: 'Accept the 1 that is sure' })).toBeVisible();
});

test('if the reference is away, the board says so and asks again', async ({ app, page }) => {
  await page.route('**/reference/search', (route) => route.abort());
  await takeInLoose(app);
  await app.station('Identify').click();
  await expect(page.getByRole('alert')).toContainText('The reference cannot be reached');
  await page.unroute('**/reference/search');
  await page.getByRole('button', { name: 'Ask again' }).click();
  await expect(page.getByRole('button', { name: 'Accept the 1 that is sure' })).toBeVisible({
    timeout: 60_000,
  });
  await expect(page.getByRole('alert')).toHaveCount(0);
});

const DISC = Array.from({ length: 8 }, (_, index) => `Discs/FERRY_INSP_S1_D2/title_0${index + 1}.mkv`);
/** Episodes that no reference knows, in the order in which they were aired: on the disc, 3 and 4 are swapped. */
const EPISODES = [
  ['1', 'The Pilot Boat', '25:12'],
  ['2', 'Ropes', '24:58'],
  ['3', 'A Third Bell', '23:57'],
  ['4', 'Slipway', '26:41'],
  ['5', 'Lee Shore', '25:30'],
  ['6', 'The Purser', '25:04'],
  ['7', 'Making a Mast', '6:48'],
  ['8', 'Trailer', '1:36'],
];
const TABLE = `<table><tr><th>No.</th><th>Title</th><th>Runtime</th></tr>${EPISODES.map(
  (cells) => `<tr>${cells.map((cell) => `<td>${cell}</td>`).join('')}</tr>`,
).join('')}</table>`;

/** Pastes HTML, as from a page. */
const pasteHtml = (into: Locator, html: string) =>
  into.evaluate((area, content) => {
    const clipboardData = new DataTransfer();
    clipboardData.setData('text/html', content);
    area.dispatchEvent(new ClipboardEvent('paste', { clipboardData, bubbles: true, cancelable: true }));
  }, html);

test('a pasted table names the files of a disc in wrong order in five acts', async ({ app, page }) => {
  await app.open();
  await app.fillFolder(DISC);
  await app.takeInFolder();
  await app.finished(/8 files taken in/);
  await app.station('Identify').click();
  await app
    .row(/FERRY_INSP/)
    .getByRole('button')
    .click(); // act 1
  await page.getByRole('button', { name: 'Paste a track list' }).click(); // act 2
  await pasteHtml(page.getByRole('textbox', { name: 'Tracks or episodes' }), TABLE); // act 3
  const listed = page.getByRole('region', { name: 'Entries of the list' });
  await expect(listed.getByRole('status')).toHaveText('8 entries, 8 with a length');
  await page.getByRole('button', { name: 'Compare with it' }).click(); // act 4
  const option = (name: string) => page.getByRole('option', { name: new RegExp(`^${name},`) });
  await expect(option('title_03')).toHaveAccessibleName(/matched to 4 Slipway.*crosses/);
  await expect(page.getByText('The best match changes the order.')).toBeVisible();
  await page.getByRole('button', { name: /Accept this line-up/ }).click(); // act 5
  await app.finished(/FERRY_INSP_S1_D2: 8 files described/);
  await app.describeItems();
  await app.row(/Slipway/).click();
  await expect(app.field('episode')).toHaveValue('4');
  await expect(page.getByText('matched to FERRY_INSP_S1_D2 by a list of your own')).toBeVisible();
  await app.undo();
  await expect(app.row(/Slipway/)).toHaveCount(0);
});

test('track lists are kept, changed and deleted; a cue sheet and another set can be one', async ({
  app,
  page,
}) => {
  await app.open();
  await app.fillFolder([...DISC, ...EBB.map((path) => path.replace('demo/', ''))]);
  await app.takeInFolder();
  await app.finished(/14 files taken in/);
  await app.station('Identify').click();
  await app
    .row(/laptop/)
    .getByRole('button')
    .click();
  const begin = () => page.getByRole('button', { name: 'Paste a track list' }).click();
  const area = page.getByRole('textbox', { name: 'Tracks or episodes' });
  const entries = page.getByRole('region', { name: 'Entries of the list' });

  await begin();
  await page.getByLabel('Read a file').setInputFiles({
    name: 'ebb.cue',
    mimeType: 'text/plain',
    buffer: Buffer.from(
      'TITLE "Ebb, my way"\nPERFORMER "Dag Holme"\nFILE "a.wav" WAVE\n TRACK 01 AUDIO\n  TITLE "First"\n  INDEX 01 00:00:00\n TRACK 02 AUDIO\n  TITLE "Second"\n  INDEX 01 01:00:00\n',
    ),
  });
  await expect(page.getByLabel('title')).toHaveValue('Ebb, my way');
  await expect(entries.getByRole('row')).toHaveText([/Title/, /First.*1:00/, /Second/]);
  await area.fill(`${await area.inputValue()} TRACK 03 AUDIO\n  TITLE "Third"\n  INDEX 01 02:00:00\n`);
  await expect(entries.getByRole('status')).toHaveText('3 entries, 2 with a length');
  await page.getByRole('button', { name: 'Compare with it' }).click();
  await expect(page.getByRole('radio', { name: /Ebb, my way/ })).toBeChecked();

  await begin();
  await expect(area).toHaveValue('');
  await page.getByLabel('Copy from another set').selectOption({ label: 'FERRY_INSP_S1_D2, 8' });
  await expect(entries.getByRole('status')).toHaveText('8 entries, 8 with a length');
  await page.keyboard.press('Escape');

  await expect.poll(() => app.kept('library')).toContain('Ebb, my way');
  await page.reload();
  await app.station('Identify').click();
  await app
    .row(/laptop/)
    .getByRole('button')
    .click();
  await expect(page.getByRole('radio', { name: /Ebb, my way/ })).toBeVisible();
  await begin();
  await page.getByLabel('Saved track lists').selectOption('Ebb, my way');
  await expect(area).toHaveValue(/Third/);
  expect((await new AxeBuilder({ page }).analyze()).violations).toEqual([]);
  await page.getByRole('button', { name: 'Delete list' }).click();
  await page.getByRole('button', { name: 'Back to the set' }).click();
  await expect(page.getByRole('radio', { name: /Ebb, my way/ })).toHaveCount(0);
});
