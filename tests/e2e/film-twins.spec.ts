import AxeBuilder from '@axe-core/playwright';
import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { unzipSync } from 'fflate';
import { pathsOn } from '../helpers/answers';
import { hasFfmpeg, withFile } from '../helpers/foreign-readers';
import { film } from '../helpers/film';
import { expect, test, type App } from './app';

/** A film of three seconds that no browser decodes, and its sound neither. */
const foreignFilm = (codec: string): number[] =>
  withFile(new Uint8Array(0), 'mkv', (path) => {
    const source = (what: string) => ['-f', 'lavfi', '-i', what];
    const from = [...source('testsrc=size=128x96:rate=25:duration=3'), ...source('sine=duration=3')];
    const to = ['-c:v', codec, '-pix_fmt', 'yuv420p', '-c:a', 'dca', '-strict', '-2', '-ar', '48000'];
    const said = ['-metadata', 'title=The Fog', '-metadata', 'date=1999', '-metadata:s:a:0', 'language=nor'];
    spawnSync('ffmpeg', ['-y', '-v', 'error', ...from, ...to, ...said, path]);
    return [...readFileSync(path)];
  });

interface Taken {
  readonly formats: readonly string[];
  readonly codecs: readonly string[];
  readonly width: number | null;
}

/** One film of three sounds, and Attic goes by a rulebook that takes other films. */
async function filmTaken(app: App, path: string, bytes: number[], takes: Taken): Promise<void> {
  await app.open();
  await app.fillFolder([{ path, bytes }]);
  await app.takeInFolder();
  await app.finished(/1 file taken in/);
  // A film of three seconds is taken for a home video.
  await app.row(/\(\d{4}\)/).click();
  await app.page.getByLabel('Another kind').selectOption('film');
  await goBy(app, takes);
}

/** Attic takes these films from now on, and no others. */
async function goBy(app: App, takes: Taken): Promise<void> {
  const { page } = app;
  await app.station('Players').click();
  await page.getByRole('radio', { name: /^Attic, / }).check();
  await page.getByRole('button', { name: 'Show rulebook' }).click();
  const book = page.getByRole('dialog');
  await book.getByRole('button', { name: 'as JSON' }).click();
  const text = book.getByLabel('Rulebook as JSON');
  const rulebook = JSON.parse(await text.inputValue()) as { takes: { kinds: string[]; most: object }[] };
  const { formats, codecs, width } = takes;
  const changed = rulebook.takes.map((take) =>
    take.kinds.includes('film') ? { ...take, formats, codecs, most: { ...take.most, width } } : take,
  );
  await text.fill(JSON.stringify({ ...rulebook, takes: changed }));
  await book.getByRole('button', { name: 'Use this rulebook' }).click();
  await expect(book).toHaveCount(0);
}

/** Has the twin of the film made on Prepare. */
async function makeTwin(app: App, made: RegExp): Promise<void> {
  const { page } = app;
  await app.station('Prepare').click();
  const grid = page.getByRole('grid', { name: 'What plays where' });
  await grid.getByRole('row').nth(1).click();
  await expect(page.getByRole('complementary', { name: 'Card' }).getByText(made)).toBeVisible();
  await page.getByRole('main').getByRole('button', { name: 'Make 1 twin for Attic' }).click();
  await app.finished(/1 twin made and checked$/);
  await expect(grid.getByRole('img', { name: /^Attic: 1 twin ready/ })).toBeVisible();
}

interface Probed {
  readonly streams: {
    readonly codec_name: string;
    readonly width?: number;
    readonly height?: number;
    readonly tags?: Readonly<Record<string, string>>;
  }[];
  readonly format: { readonly duration: string; readonly tags?: Readonly<Record<string, string>> };
}

/** The film on Attic, as ffprobe reads it, and its bytes. */
async function onAttic({ page }: App): Promise<{ path: string; probed: Probed | null; bytes: Uint8Array }> {
  const [path = ''] = (await pathsOn(page.request, 'attic')).filter((one) => /\.(mp4|webm)$/.test(one));
  const answer = await page.request.get(
    `/devices/attic/files/${path.split('/').map(encodeURIComponent).join('/')}`,
  );
  const bytes = new Uint8Array(await answer.body());
  const ask = ['-v', 'error', '-of', 'json', '-show_streams', '-show_format'];
  const probed = hasFfmpeg
    ? withFile(bytes, path.split('.').at(-1) ?? '', (file) => {
        const { stdout, stderr } = spawnSync('ffprobe', [...ask, file]);
        expect(stderr.toString()).toBe('');
        const { streams, format } = JSON.parse(stdout.toString()) as Probed;
        // Chapters of an MP4 stand in a track of their own.
        return { streams: streams.filter(({ codec_name }) => codec_name !== 'bin_data'), format };
      })
    : null;
  return { path, probed, bytes };
}

async function run(app: App): Promise<void> {
  await app.station('Players').click();
  await app.page.getByRole('radio', { name: /^Attic, / }).check();
  await app.run();
  await expect(app.page.getByRole('radio', { name: /^Attic, current as planned/ })).toBeVisible();
}

test('a film in Matroska goes to a player of MP4 without encoding, with its names, and tracks that are left out stay out', async ({
  app,
  page,
}) => {
  await filmTaken(app, 'Films/The Keeper (1974).mkv', await film('mkv'), {
    formats: ['mp4'],
    codecs: ['avc1', 'mp4a'],
    width: null,
  });
  await makeTwin(app, /as MP4, picture unchanged, sound unchanged/);
  expect((await new AxeBuilder({ page }).setLegacyMode().analyze()).violations).toEqual([]);
  await run(app);
  const first = await onAttic(app);
  expect(first.path).toMatch(/The Keeper.*\.mp4$/);
  if (first.probed) {
    const { streams, format } = first.probed;
    expect(streams.map(({ codec_name }) => codec_name)).toEqual(['h264', 'aac', 'aac', 'aac']);
    expect(streams.map(({ tags }) => tags?.language)).toEqual(['und', 'eng', 'nob', 'eng']);
    expect(format.tags?.title).toBe('The Keeper');
  }

  // A track that is left out changes the copy, and nothing is converted again.
  await app.station('Prepare').click();
  await page.getByRole('button', { name: 'Tracks', exact: true }).click();
  const table = page.getByRole('region', { name: /^Tracks of/ });
  await table.getByLabel('Keep track 3').uncheck();
  await page.getByRole('button', { name: 'Back to the board' }).click();
  await expect(
    page.getByRole('grid', { name: 'What plays where' }).getByRole('img', { name: /^Attic: 1 twin ready/ }),
  ).toBeVisible();
  await run(app);
  const second = await onAttic(app);
  if (second.probed) {
    const { streams } = second.probed;
    expect(streams.map(({ codec_name }) => codec_name)).toEqual(['h264', 'aac', 'aac']);
    expect(streams.map(({ tags }) => tags?.language)).toEqual(['und', 'eng', 'eng']);
  }
});

test('a film that has too many pixels is made smaller, and one in MP4 becomes a WebM, and both stay in step', async ({
  app,
}) => {
  await filmTaken(app, 'Films/The Lamp (1981).mp4', await film('mp4'), {
    formats: ['mp4'],
    codecs: ['avc1', 'mp4a'],
    width: 64,
  });
  await makeTwin(app, /as MP4, H\.264 64×42, .* sound unchanged/);
  await run(app);
  const { path, probed } = await onAttic(app);
  expect(path).toMatch(/\.mp4$/);
  if (probed) {
    const [picture] = probed.streams;
    expect(picture).toMatchObject({ codec_name: 'h264', width: 64, height: 42 });
    expect(Number(probed.format.duration)).toBeCloseTo(3, 0);
  }

  await goBy(app, { formats: ['matroska'], codecs: ['V_VP9', 'A_OPUS'], width: null });
  await makeTwin(app, /as WebM, VP9 96×64, .* Opus/);
  await run(app);
  const other = await onAttic(app);
  expect(other.path).toMatch(/\.webm$/);
  if (other.probed) {
    const { streams, format } = other.probed;
    expect(streams.map(({ codec_name }) => codec_name)).toEqual(['vp9', 'opus', 'opus', 'opus']);
    expect(streams.map(({ tags }) => tags?.language ?? tags?.LANGUAGE)).toEqual([
      undefined,
      'eng',
      'nob',
      'eng',
    ]);
    expect(Number(format.duration)).toBeCloseTo(3, 0);
  }
});

test('sounds of few samples a second begin and end with their pictures, also one that begins late', async ({
  app,
}) => {
  test.skip(!hasFfmpeg, 'nothing here makes such a film');
  // A tone from the second second on, of 8,000 samples a second, and the same half a second later.
  const bytes = withFile(new Uint8Array(0), 'mkv', (path) => {
    const from = (what: string, ...late: string[]) => [...late, '-f', 'lavfi', '-i', what];
    const tone = "aevalsrc='if(lt(t,1),0,sin(2*PI*440*t)/2)':s=8000:d=3.01";
    const inputs = [...from('testsrc=size=64x48:rate=25:duration=3.52'), ...from(tone)];
    const maps = '-map 0 -map 1 -map 2 -c:v libx264 -pix_fmt yuv420p -c:a flac'.split(' ');
    const said = ['-metadata', 'title=The Bell', '-metadata', 'date=1977'];
    const all = [...inputs, ...from(tone, '-itsoffset', '0.5'), ...maps, ...said];
    spawnSync('ffmpeg', ['-y', '-v', 'error', ...all, path]);
    return [...readFileSync(path)];
  });
  await filmTaken(app, 'Films/The Bell (1977).mkv', bytes, {
    formats: ['mp4'],
    codecs: ['avc1', 'mp4a'],
    width: null,
  });
  await makeTwin(app, /as MP4, picture unchanged, .*AAC/);
  await run(app);
  const { bytes: made, probed } = await onAttic(app);
  expect(probed?.streams.map(({ codec_name }) => codec_name)).toEqual(['h264', 'aac', 'aac']);
  const heard = withFile(made, 'mp4', (path) =>
    [0, 1].map((index) => {
      // From the film's time zero on, with nothing where the sound has not begun.
      const ask = ['-map', `0:a:${index}`, '-af', 'aresample=async=1:first_pts=0', '-f', 's16le', '-'];
      const { stdout } = spawnSync('ffmpeg', ['-v', 'error', '-i', path, ...ask], { maxBuffer: 1e8 });
      const samples = new Int16Array(stdout.buffer, stdout.byteOffset, stdout.length / 2);
      return { begins: samples.findIndex((one) => Math.abs(one) > 3000) / 8000, ends: samples.length / 8000 };
    }),
  );
  [0, 0.5].forEach((late, index) => {
    expect(heard[index]!.begins).toBeCloseTo(1 + late, 1.6);
    // This reader leaves out whole packets alone, of 0.128 seconds here.
    expect(heard[index]!.ends - 3.01 - late).toBeGreaterThan(-0.01);
    expect(heard[index]!.ends - 3.01 - late).toBeLessThan(0.128);
  });
});

test('where this browser does not encode H.264, a player that takes VP9, too, gets that', async ({
  app,
  page,
}) => {
  await page.addInitScript(() => {
    const ask = VideoEncoder.isConfigSupported.bind(VideoEncoder);
    VideoEncoder.isConfigSupported = (config) =>
      config.codec.startsWith('avc1') ? Promise.resolve({ supported: false }) : ask(config);
  });
  await filmTaken(app, 'Films/The Keeper (1974).mkv', await film('mkv'), {
    formats: ['mp4', 'matroska'],
    codecs: ['avc1', 'mp4a', 'V_VP9', 'A_OPUS'],
    width: 64,
  });
  await makeTwin(app, /as WebM, VP9 64×42/);
});

for (const codec of ['mpeg2video', 'libx265'])
  test(`a film in ${codec} is converted by the server where it can, and told with what to install where it cannot`, async ({
    app,
    page,
  }) => {
    test.skip(!hasFfmpeg, 'nothing here makes such a film');
    await filmTaken(app, 'Films/The Fog (1999).mkv', foreignFilm(codec), {
      formats: ['mp4'],
      codecs: ['avc1', 'mp4a'],
      width: 64,
    });
    await page.route('**/converter?*', (route) =>
      route.fulfill({
        status: 501,
        json: { message: 'ffmpeg is not installed on the machine that runs Lectorum' },
      }),
    );
    await app.station('Prepare').click();
    await page.getByRole('main').getByRole('button', { name: 'Make 1 twin for Attic' }).click();
    await expect(
      page.getByText(/browser cannot decode .*ffmpeg is not installed on the machine/),
    ).toBeVisible();
    await page.unroute('**/converter?*');
    await makeTwin(app, /as MP4, H\.264 64×48/);
    await run(app);
    const { probed } = await onAttic(app);
    const streams = probed?.streams ?? [];
    expect(streams.map(({ codec_name }) => codec_name)).toEqual(['h264', 'aac']);
    expect(streams[0]).toMatchObject({ width: 64, height: 48 });
    expect(streams[1]?.tags?.language).toBe('nor');
    expect(Number(probed?.format.duration)).toBeCloseTo(3, 0);
  });

test('a recipe of films is kept by name, and films are converted by it, by hand, into a ZIP', async ({
  app,
  page,
}) => {
  await app.open();
  await app.fillFolder([{ path: 'Films/The Keeper (1974).mkv', bytes: await film('mkv') }]);
  await app.takeInFolder();
  await app.finished(/1 file taken in/);
  await app.station('Prepare').click();
  await page.getByRole('button', { name: 'Recipes' }).click();
  await page
    .getByRole('group', { name: 'Begin a recipe' })
    .getByRole('button', { name: 'WebM video' })
    .click();
  const recipe = page.getByRole('region', { name: 'The recipe' });
  await recipe.getByRole('textbox', { name: 'name' }).fill('Cabin screen');
  await recipe.getByLabel('video codec').selectOption('VP8');
  await recipe.getByLabel('height').selectOption('at most 360 pixels');
  await recipe.getByLabel('bit rate').selectOption('at most 500 kbit/s');
  await expect(recipe.getByText('This browser can encode this.')).toBeVisible();
  expect((await new AxeBuilder({ page }).analyze()).violations).toEqual([]);
  await recipe.getByRole('button', { name: 'Save recipe' }).click();
  await expect.poll(() => app.kept('library')).toContain('Cabin screen');
  await page.reload();
  await page.getByRole('button', { name: 'Recipes' }).click();
  await expect(
    page.getByRole('button', { name: /^Cabin screen WebM, VP8, at most 360 pixels/ }),
  ).toBeVisible();
  await page.getByRole('button', { name: 'Back to the board' }).click();
  await page.getByRole('button', { name: 'Convert by hand' }).click();
  const dialog = page.getByRole('dialog');
  await dialog
    .getByLabel('recipe')
    .selectOption({ label: 'Cabin screen: WebM, VP8, at most 360 pixels high, at most 500 kbit/s' });
  await dialog.getByLabel('file names').selectOption('keep names, in one folder');
  await dialog.getByLabel('a ZIP').check();
  await dialog.getByRole('button', { name: 'Convert 1 item' }).click();
  await app.finished(/1 twin made and checked$/);
  await expect(page.getByRole('radio', { name: /^Cabin screen copies, ready/ })).toBeChecked();
  await app.run();
  await app.finished(/none failed/);
  const downloading = page.waitForEvent('download');
  await page.getByRole('button', { name: /^Save the ZIP/ }).click();
  const path = await (await downloading).path();
  const [[name, bytes] = ['', new Uint8Array()]] = Object.entries(unzipSync(await readFile(path)));
  expect(name).toBe('The Keeper (1974).webm');
  if (!hasFfmpeg) return;
  const codecs = withFile(bytes, 'webm', (file) =>
    spawnSync('ffprobe', ['-v', 'error', '-of', 'csv=p=0', '-show_entries', 'stream=codec_name', file])
      .stdout.toString()
      .match(/\w+/g),
  );
  expect(codecs).toEqual(['vp8', 'opus', 'opus', 'opus']);
});
