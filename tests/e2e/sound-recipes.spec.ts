import { spawnSync } from 'node:child_process';
import { readFile } from 'node:fs/promises';
import { unzipSync } from 'fflate';
import { filesOn } from '../helpers/answers';
import { hasFfmpeg, withFile } from '../helpers/foreign-readers';
import { dsfFile, id3Tag, modulate } from '../../scripts/demo/dsd.mjs';
import { ALBUM, expect, test, type App } from './app';

/** A song of samples of one bit, taken in. */
async function songTaken(app: App): Promise<void> {
  const tone = modulate((seconds) => 0.4 * Math.sin(2764 * seconds) * Math.min(1, 5 * seconds), 1.25);
  const tag = id3Tag({ TIT2: 'Wick', TPE1: 'Orla Venn', TALB: 'Deep Lamps', TRCK: '1' });
  await app.open();
  await app.fillFolder([
    { path: 'Music/Orla Venn/Deep Lamps/01 Wick.dsf', bytes: [...dsfFile([tone, tone], tag)] },
  ]);
  await app.takeInFolder();
  await app.finished(/1 file taken in/);
  await app.station('Prepare').click();
}

/** Keeps a recipe by name. @param wishes what is chosen in it, by label */
async function keepRecipe(
  { page }: App,
  format: string,
  name: string,
  wishes: Readonly<Record<string, string>>,
): Promise<void> {
  await page.getByRole('button', { name: 'Recipes' }).click();
  await page
    .getByRole('group', { name: 'Begin a recipe' })
    .getByRole('button', { name: format, exact: true })
    .click();
  const recipe = page.getByRole('region', { name: 'The recipe' });
  await recipe.getByRole('textbox', { name: 'name' }).fill(name);
  for (const [label, wish] of Object.entries(wishes))
    await recipe.getByRole('combobox', { name: new RegExp(`^${label}`) }).selectOption(wish);
  await expect(recipe.getByText('This browser can encode this.')).toBeVisible();
  await recipe.getByRole('button', { name: 'Save recipe' }).click();
  await page.getByRole('button', { name: 'Back to the board' }).click();
}

/** What ffprobe tells of the only file of a ZIP into which the song is converted by hand, and its bytes. */
async function convertedBy(app: App, label: RegExp) {
  const { page } = app;
  await page.getByRole('button', { name: 'Convert by hand' }).click();
  const dialog = page.getByRole('dialog');
  const recipes = dialog.getByLabel('recipe');
  const value = await recipes.getByRole('option', { name: label }).getAttribute('value');
  await recipes.selectOption(value);
  await dialog.getByLabel('a ZIP').check();
  await dialog.getByRole('button', { name: 'Convert 1 item' }).click();
  await app.finished(/1 twin made and checked$/);
  await app.run();
  await app.finished(/none failed/);
  const downloading = page.waitForEvent('download');
  await page.getByRole('button', { name: /^Save the ZIP/ }).click();
  const [[name, bytes] = ['', new Uint8Array()]] = Object.entries(
    unzipSync(await readFile(await (await downloading).path())),
  );
  await app.station('Prepare').click();
  const ask = ['-v', 'error', '-of', 'csv=p=0', '-show_entries'];
  const said = 'stream=codec_name,sample_rate,bits_per_raw_sample,duration';
  const told = hasFfmpeg
    ? withFile(bytes, name.split('.').at(-1) ?? '', (path) =>
        spawnSync('ffprobe', [...ask, said, path])
          .stdout.toString()
          .trim(),
      )
    : null;
  return { name, bytes: Buffer.from(bytes), told };
}

test('AIFF, FLAC of 16 bits and MP3 of a variable rate are made as their recipes say', async ({
  app,
  page,
}) => {
  test.setTimeout(200_000);
  await songTaken(app);
  await keepRecipe(app, 'AIFF', 'Loft', { 'sample rate': 'at most 88.2 kHz' });
  await keepRecipe(app, 'FLAC', 'Attic deck', {
    'bit depth': 'at most 16 bits',
    'sample rate': 'at most 48 kHz',
  });
  await keepRecipe(app, 'MP3', 'Cabin', {
    'bit rate': 'variable bit rate, about as large',
    music: '192 kbit/s',
  });

  const aiff = await convertedBy(app, /^Loft/);
  expect(aiff.name).toMatch(/\.aif$/);
  expect(aiff.bytes.includes('Deep Lamps')).toBe(true);
  if (aiff.told !== null) expect(aiff.told).toBe('pcm_s24be,88200,1.250000,24');
  const flac = await convertedBy(app, /^Attic deck/);
  if (flac.told !== null) expect(flac.told).toBe('flac,44100,1.250000,16');
  const mp3 = await convertedBy(app, /^Cabin/);
  expect(mp3.bytes.includes('Xing')).toBe(true);
  if (mp3.told !== null) expect(mp3.told).toMatch(/^mp3,44100,1\.2/);

  // What is left out by a player's limits is said with the reason, and the recipe keeps to them.
  await page.getByRole('button', { name: 'Recipes' }).click();
  await expect(
    page.getByRole('button', { name: /^Attic deck FLAC, .*at most 16 bits a sample/ }),
  ).toBeVisible();
  await expect(page.getByRole('button', { name: /^Cabin MP3, .*variable bit rate/ })).toBeVisible();
});

test('loudness is measured as another program measures it, written as tags, and taken back by one undo', async ({
  app,
  page,
  request,
}) => {
  test.setTimeout(200_000);
  const songs = ALBUM.slice(3, 5);
  await app.open();
  await app.fillFolder(songs);
  await app.takeInFolder();
  await app.finished(/2 files taken in/);
  await app.station('Prepare').click();
  await page.getByRole('grid', { name: 'What plays where' }).focus();
  await page.keyboard.press('Home');
  const card = page.getByRole('complementary', { name: 'Card' });
  await card.getByRole('button', { name: 'Measure loudness' }).click();
  await app.finished(/Loudness of 2 of 2 measured/);
  await expect(card.getByText('2 of 2 have a gain for players.')).toBeVisible();
  await app.station('Players').click();
  await page.getByRole('radio', { name: /^Attic, / }).check();
  await app.run();
  await app.finished(/none failed/);
  for (const { path } of (await filesOn(request, 'attic')).filter((one) => one.path.endsWith('.flac'))) {
    const answer = await request.get(
      `/devices/attic/files/${path.split('/').map(encodeURIComponent).join('/')}`,
    );
    const bytes = await answer.body();
    const gain = Number(/REPLAYGAIN_TRACK_GAIN=(-?[\d.]+) dB/.exec(bytes.toString('latin1'))?.[1]);
    expect(bytes.includes('REPLAYGAIN_ALBUM_GAIN=')).toBe(true);
    if (!hasFfmpeg) continue;
    const { stderr } = withFile(bytes, 'flac', (file) =>
      spawnSync('ffmpeg', ['-nostats', '-i', file, '-af', 'ebur128', '-f', 'null', '-']),
    );
    const theirs = Number(/I:\s+(-[\d.]+) LUFS\s+Threshold[\s\S]*$/.exec(stderr.toString())?.[1]);
    expect(Math.abs(-18 - gain - theirs)).toBeLessThan(0.11);
  }
  await app.undo();
  await app.station('Prepare').click();
  await page.getByRole('grid', { name: 'What plays where' }).focus();
  await page.keyboard.press('Home');
  await expect(card.getByText(/Not measured/)).toBeVisible();
});
