import AxeBuilder from '@axe-core/playwright';
import { spawnSync } from 'node:child_process';
import { pathsOn } from '../helpers/answers';
import { hasFfmpeg, withFile } from '../helpers/foreign-readers';
import { film } from '../helpers/film';
import { expect, test, type App } from './app';

/** Two films of six tracks, in Matroska and in MP4, with the panel of their tracks open. */
async function openTracks(app: App): Promise<void> {
  await app.open();
  await app.fillFolder([
    { path: 'Films/The Keeper (1974).mkv', bytes: await film('mkv') },
    { path: 'Films/The Lamp (1981).mp4', bytes: await film('mp4') },
  ]);
  await app.takeInFolder();
  await app.finished(/2 files taken in/);
  await app.station('Prepare').click();
  await app.page.getByRole('button', { name: 'Tracks', exact: true }).click();
}

test('a rule leaves tracks out of two films in one act, seen before; undone, it is as it was', async ({
  app,
  page,
}) => {
  await openTracks(app);
  await page.getByLabel('Keep sound').selectOption('only');
  await page.getByLabel('Languages of sound').fill('en, 12, x');
  await expect(page.getByRole('alert')).toHaveText(/“12”, “x”: not a language/);
  await expect(page.getByRole('button', { name: 'Apply to all 2 files' })).toBeDisabled();
  await page.getByLabel('Languages of sound').fill('en');
  await page.getByLabel('no commentaries').check();
  await page.getByLabel('Keep subtitles').selectOption('none');
  const files = page.getByRole('grid', { name: 'Files with several tracks' });
  await expect(files.getByRole('row').nth(1)).toContainText(/2 subtitles\s+1 picture, 1 sound/);
  await page.getByRole('button', { name: 'Apply to all 2 files' }).click();
  for (const row of [1, 2])
    await expect(files.getByRole('row').nth(row)).toContainText('1 picture, 1 sound of 6');
  const table = page.getByRole('region', { name: /^Tracks of/ });
  await expect(table.getByText(/6 tracks become 1 picture, 1 sound/)).toBeVisible();
  await expect(table.getByLabel('Keep track 3')).not.toBeChecked();
  expect((await new AxeBuilder({ page }).setLegacyMode().analyze()).violations).toEqual([]);
  await app.undo();
  await expect(files.getByRole('row').nth(2)).toContainText('1 picture, 3 sound, 2 subtitles');
  await expect(table.getByLabel('Keep track 3')).toBeChecked();
});

test('a film loses a track, gets subtitles and another order; its copy has them, packet for packet', async ({
  app,
  page,
  request,
}) => {
  await openTracks(app);
  const table = page.getByRole('region', { name: /^Tracks of/ });
  for (const name of ['The Keeper', 'The Lamp']) {
    await page.getByRole('grid', { name: 'Files with several tracks' }).getByRole('row', { name }).click();
    await table.getByLabel('Keep track 4').uncheck();
    await table.getByLabel('Keep track 5').uncheck();
    await table.getByRole('button', { name: 'Move track 3 up' }).click();
    await table.getByRole('button', { name: 'What track 2 is for' }).click();
    await table.getByLabel('for the hard of hearing').check();
    await page.keyboard.press('Escape');
    await expect(table.getByRole('button', { name: 'What track 2 is for' })).toHaveText(/hard of hearing/);
    await table.locator('input[type=file]').setInputFiles({
      name: 'keeper.nn.srt',
      mimeType: 'text/plain',
      buffer: Buffer.from('1\n00:00:00,400 --> 00:00:01,000\nKven der?\n'),
    });
    await expect(table.getByLabel('Language of track 1001')).toHaveValue('nn');
    await table.getByRole('button', { name: 'Read track 6' }).click();
    await expect(table.getByText('Only the tide.')).toBeVisible();
    await table.getByRole('button', { name: 'Listen to track 3' }).click();
    await expect
      .poll(() =>
        table.getByLabel('Track 3', { exact: true }).evaluate((one: HTMLAudioElement) => one.duration),
      )
      .toBeCloseTo(3, 0);
  }
  await page.reload();
  await page.getByRole('button', { name: 'Tracks', exact: true }).click();
  await expect(table.getByText(/7 tracks become 1 picture, 2 sound, 2 subtitles/)).toBeVisible();
  await page.getByRole('button', { name: 'Back to the board' }).click();

  await app.station('Players').click();
  await page.getByRole('radio', { name: /^Attic, / }).check();
  await app.run();
  await app.finished(/none failed/);
  const copies = (await pathsOn(request, 'attic')).filter((path) => /\.(mkv|mp4)$/.test(path));
  expect(copies).toHaveLength(2);
  if (!hasFfmpeg) return;
  for (const path of copies) {
    const ending = path.endsWith('mkv') ? 'mkv' : 'mp4';
    const answer = await request.get(
      `/devices/attic/files/${path.split('/').map(encodeURIComponent).join('/')}`,
    );
    const bytes = new Uint8Array(await answer.body());
    const digests = (from: Uint8Array, map: string) =>
      withFile(from, ending, (file) =>
        spawnSync('ffmpeg', ['-v', 'error', '-i', file, '-map', map, '-c', 'copy', '-f', 'streamhash', '-'])
          .stdout.toString()
          .replace(/^\d+,/gm, ''),
      );
    const original = Uint8Array.from(await film(ending));
    for (const [now, before] of [
      ['0:v', '0:v'],
      ['0:a:0', '0:a:1'],
      ['0:a:1', '0:a:0'],
      ['0:s:0', '0:s:1'],
    ] as const)
      expect(digests(bytes, now)).toBe(digests(original, before));
    expect(digests(bytes, '0:s:1')).not.toBe('');
  }
});

test('a film loses a track in the original itself where that is asked for, and gets it back, byte for byte', async ({
  app,
  page,
}) => {
  await openTracks(app);
  const before = await app.readFolder('lectorum-intake');
  const table = page.getByRole('region', { name: /^Tracks of/ });
  for (const name of ['The Keeper', 'The Lamp']) {
    await page.getByRole('grid', { name: 'Files with several tracks' }).getByRole('row', { name }).click();
    await table.getByLabel('Keep track 3').uncheck();
  }
  await app.describeItems();
  await page.getByRole('button', { name: 'Originals', exact: true }).click();
  await page.getByRole('button', { name: /^Change 2 originals/ }).click();
  await app.finished(/2 originals written/);
  const after = await app.readFolder('lectorum-intake');
  for (const [path, bytes] of after) {
    expect(bytes.length).toBeLessThan(before.get(path)?.length ?? 0);
    if (hasFfmpeg)
      withFile(bytes, path.slice(-3), (file) => {
        const { stdout } = spawnSync('ffprobe', [
          '-v',
          'error',
          '-show_entries',
          'stream=codec_type',
          '-of',
          'csv=p=0',
          file,
        ]);
        expect(stdout.toString().match(/audio/g)).toHaveLength(2);
      });
  }
  await page
    .getByRole('list', { name: 'Runs into originals' })
    .getByRole('button', { name: 'Take back' })
    .click();
  await app.finished(/2 originals restored, byte for byte/);
  const again = await app.readFolder('lectorum-intake');
  for (const [path, bytes] of before) expect(again.get(path)?.equals(bytes)).toBe(true);
});
