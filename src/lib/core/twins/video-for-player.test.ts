import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import attic from '../../rulebooks/attic.json';
import type { FormatId, Stream } from '../items';
import { readRulebook, refusalOf, type Rulebook } from '../rulebooks';
import { recipeForPlayer } from './for-player';
import { readWishes, withRecipe, type RecipeId } from './named-recipe';
import { bytesMade, fileOf, isVideo, recipeKey, type TwinSource, type VideoRecipe } from './recipe';

const NO_LIMITS = {
  bytes: null,
  seconds: null,
  sampleRate: null,
  channels: null,
  width: null,
  height: null,
};
/** The rulebook of Attic, with other films. */
const screen = (
  formats: readonly string[],
  codecs: readonly string[] | null,
  most: object = {},
  disk: object = {},
): Rulebook =>
  readRulebook({
    ...attic,
    takes: [{ kinds: ['film'], formats, codecs, most: { ...NO_LIMITS, ...most } }],
    disk: { ...attic.disk, ...disk },
  });

const picture = (codec: string, width = 1920, height = 1080): Stream => ({
  type: 'picture',
  codec,
  channels: null,
  sampleRate: null,
  width,
  height,
});
const sound = (codec: string, channels = 2): Stream => ({
  type: 'sound',
  codec,
  channels,
  sampleRate: 48_000,
  width: null,
  height: null,
  bytes: 20_000_000,
});
const film = (format: FormatId, streams: readonly Stream[], rest: Partial<TwinSource> = {}): TwinSource => ({
  format,
  size: 2_000_000_000,
  durationSeconds: 6000,
  streams,
  ...rest,
});

/** As the player sees what a recipe makes. */
function made(recipe: VideoRecipe, file: TwinSource): TwinSource {
  const { format } = fileOf(recipe);
  return { ...file, format, size: bytesMade(recipe, file) };
}

describe('the recipe of moving pictures for a player', () => {
  test('packets that the player takes are kept, in another container', () => {
    const file = film('matroska', [picture('V_MPEG4/ISO/AVC'), sound('A_AAC')]);
    expect(recipeForPlayer(screen(['mp4'], ['avc1', 'mp4a']), 'film', file)).toEqual({
      container: 'mp4',
      picture: null,
      sound: null,
    });
  });

  test('sound alone is encoded where pictures are taken', () => {
    const file = film('matroska', [picture('V_MPEG4/ISO/AVC'), sound('A_AC3', 6), sound('A_AAC', 1)]);
    expect(recipeForPlayer(screen(['mp4'], ['avc1', 'mp4a']), 'film', file)).toEqual({
      container: 'mp4',
      picture: null,
      sound: { codec: 'aac', bitrate: 192_000, sampleRate: 48_000, channels: 2, mostBits: null },
    });
  });

  test('pictures are made smaller in their own shape, by even numbers of pixels', () => {
    const file = film('mp4', [picture('avc1', 1920, 800), sound('mp4a')]);
    expect(recipeForPlayer(screen(['mp4'], null, { width: 1280, height: 720 }), 'film', file)).toMatchObject({
      picture: { codec: 'avc', width: 1280, height: 532 },
      sound: null,
    });
  });

  test('a player of WebM gets VP9 with Opus', () => {
    const file = film('mp4', [picture('hvc1'), sound('mp4a')]);
    expect(recipeForPlayer(screen(['matroska'], ['V_VP9', 'A_OPUS']), 'film', file)).toMatchObject({
      container: 'webm',
      picture: { codec: 'vp9' },
      sound: { codec: 'opus' },
    });
  });

  test('what no player could see is not made: it says that there is no room, or no video', () => {
    const file = film('mp4', [picture('hvc1'), sound('mp4a')]);
    const h264 = ['avc1', 'mp4a'];
    expect(recipeForPlayer(screen(['mp4'], h264, { bytes: 30_000_000 }), 'film', file)).toBe('bytes');
    expect(recipeForPlayer(screen(['mp4'], h264, {}, { largestFile: 30_000_000 }), 'film', file)).toBe(
      'bytes',
    );
    expect(recipeForPlayer(screen(['mp4'], h264, { seconds: 60 }), 'film', file)).toBe('seconds');
    expect(recipeForPlayer(screen(['mp4'], ['mp4v', 'mp4a']), 'film', file)).toBe('noPicture');
    expect(recipeForPlayer(screen(['mp3'], null), 'film', file)).toBe('noPicture');
  });

  test('a limit of bytes is met by fewer of them a second', () => {
    const file = film('mp4', [picture('hvc1'), sound('mp4a')]);
    const recipe = recipeForPlayer(screen(['mp4'], ['avc1', 'mp4a'], { bytes: 700_000_000 }), 'film', file);
    expect(typeof recipe !== 'string' && bytesMade(recipe, file)).toBeLessThanOrEqual(700_000_000);
  });

  test('whatever is made, the player takes it, and it is no larger than what it is made from', () => {
    const any = fc.record({
      format: fc.constantFrom<FormatId>('mp4', 'matroska'),
      width: fc.integer({ min: 2, max: 4000 }),
      height: fc.integer({ min: 2, max: 3000 }),
      codec: fc.constantFrom('avc1', 'hvc1', 'V_VP9', 'V_MPEG4/ISO/AVC', 'V_MPEG2', 'av01', 'other'),
      sounds: fc.array(fc.constantFrom('mp4a', 'A_OPUS', 'A_AC3', 'A_DTS', 'ac-3'), { maxLength: 3 }),
      size: fc.integer({ min: 70_000_000, max: 4_000_000_000 }),
      seconds: fc.integer({ min: 1, max: 10_000 }),
    });
    const books = [
      screen(['mp4'], ['avc1', 'mp4a'], { width: 1280, height: 720 }),
      screen(['mp4'], null, { height: 480 }, { largestFile: 1_000_000_000 }),
      screen(['matroska'], ['V_VP9', 'V_VP8', 'A_OPUS']),
      screen(['mp4', 'matroska'], ['V_AV1', 'A_OPUS', 'avc1', 'mp4a'], { bytes: 500_000_000 }),
    ];
    let count = 0;
    fc.assert(
      fc.property(any, fc.constantFrom(...books), ({ format, codec, sounds, ...of }, rulebook) => {
        const streams = [picture(codec, of.width, of.height), ...sounds.map((one) => sound(one))];
        const file = film(format, streams, { size: of.size, durationSeconds: of.seconds });
        if (refusalOf(rulebook, 'film', file) === null) return;
        const recipe = recipeForPlayer(rulebook, 'film', file);
        if (typeof recipe === 'string' || !isVideo(recipe)) return;
        count++;
        const { most } = rulebook.takes[0]!;
        const { size } = made(recipe, file);
        expect(size).toBeLessThanOrEqual(
          Math.min(most.bytes ?? Infinity, rulebook.disk.largestFile ?? Infinity),
        );
        if (!recipe.picture) return;
        const { width, height, bitrate } = recipe.picture;
        expect(width).toBeLessThanOrEqual(Math.min(Math.max(of.width, 2), most.width ?? Infinity));
        expect(height).toBeLessThanOrEqual(Math.min(Math.max(of.height, 2), most.height ?? Infinity));
        expect([width % 2, height % 2]).toEqual([0, 0]);
        expect(bitrate).toBeLessThanOrEqual((of.size * 8) / of.seconds);
      }),
      { seed: 27, numRuns: 1000 },
    );
    expect(count).toBeGreaterThan(200);
  });

  test('a recipe that was chosen says what is encoded to, and how small; what is smaller is kept', () => {
    const book = screen(['mp4', 'matroska'], ['avc1', 'mp4a', 'V_VP9', 'A_OPUS']);
    const chosen = (wishes: object) =>
      withRecipe(book, {
        id: 'r' as RecipeId,
        name: 'Small',
        wishes: { container: 'webm', codec: 'vp9', mostHeight: null, mostBitrate: null, ...wishes },
      });
    const file = film('matroska', [picture('V_MPEG4/ISO/AVC'), sound('A_AAC')]);
    expect(recipeForPlayer(book, 'film', file)).toMatchObject({ container: 'mp4', picture: null });
    expect(recipeForPlayer(chosen({ mostHeight: 480 }), 'film', file)).toMatchObject({
      container: 'webm',
      picture: { codec: 'vp9', width: 852, height: 480 },
      sound: { codec: 'opus' },
    });
    expect(recipeForPlayer(chosen({ mostBitrate: 500_000 }), 'film', file)).toMatchObject({
      container: 'webm',
      picture: { bitrate: 500_000 },
    });
    const small = film('matroska', [picture('V_VP9', 640, 360), sound('A_AAC')]);
    expect(recipeForPlayer(chosen({ mostHeight: 480 }), 'film', small)).toMatchObject({
      container: 'webm',
      picture: null,
      sound: { codec: 'opus' },
    });
  });

  test('a recipe of films comes in from a file, and nothing that is none', () => {
    const wishes = { container: 'webm', codec: 'vp8', mostHeight: 720, mostBitrate: null };
    expect(readWishes({ name: 'Small', wishes })).toEqual({ name: 'Small', wishes });
    expect(readWishes({ name: 'Small', wishes: { ...wishes, mostHeight: -1 } })?.wishes).toEqual({
      ...wishes,
      mostHeight: null,
    });
    // VP8 has no place in an MP4.
    expect(readWishes({ name: 'Small', wishes: { ...wishes, container: 'mp4' } })).toBe(null);
    expect(readWishes({ name: 'Small', wishes: { ...wishes, codec: 'mp3' } })).toMatchObject({
      wishes: { codec: 'mp3' },
    });
  });

  test('recipes that make another file have another key', () => {
    const plain: VideoRecipe = { container: 'mp4', picture: null, sound: null };
    const shown = { codec: 'avc', width: 640, height: 360, bitrate: 1_000_000 } as const;
    const keys = [
      plain,
      { ...plain, container: 'webm' } as const,
      { ...plain, picture: shown },
      { ...plain, picture: { ...shown, height: 358 } },
      { ...plain, picture: { ...shown, bitrate: 900_000 } },
    ].map(recipeKey);
    expect(new Set(keys).size).toBe(keys.length);
  });
});
