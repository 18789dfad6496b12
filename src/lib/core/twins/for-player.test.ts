import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { RULEBOOKS } from '$lib/rulebooks';
import { makeItem } from '../../../../tests/helpers/items';
import type { FormatId, Stream } from '../items';
import { readRulebook, refusalOf, type Rulebook } from '../rulebooks';
import galley from '../../rulebooks/galley.json';
import { codecFacts } from './codecs';
import { recipeForPlayer } from './for-player';
import { rateFor } from './rates';
import { bytesMade, isVideo, recipeKey, type SoundRecipe, type TwinSource } from './recipe';

const source = (
  format: FormatId,
  sound: Partial<Stream> = {},
  rest: Partial<TwinSource> = {},
): TwinSource => ({
  format,
  size: 30_000_000,
  durationSeconds: 200,
  streams: [
    { type: 'sound', codec: null, channels: 2, sampleRate: 44_100, width: null, height: null, ...sound },
  ],
  ...rest,
});
const {
  attic,
  galley: jukebox,
  pocket,
} = RULEBOOKS as Readonly<Record<string, Rulebook>> as {
  attic: Rulebook;
  galley: Rulebook;
  pocket: Rulebook;
};

describe('the recipe for a player', () => {
  test('what loses nothing stays so where the player allows it', () => {
    expect(recipeForPlayer(pocket, 'song', source('flac', { codec: 'FLAC' }))).toMatchObject({
      codec: 'alac',
      bitrate: null,
      sampleRate: 44_100,
    });
    expect(recipeForPlayer(jukebox, 'song', source('flac'))).toMatchObject({
      codec: 'mp3',
      bitrate: 256_000,
    });
  });

  test('what has lost something is made no larger than it is', () => {
    const opus = source('opus', { codec: 'Opus', sampleRate: 48_000 }, { soundBytes: (96_000 / 8) * 200 });
    expect(recipeForPlayer(jukebox, 'song', opus)).toMatchObject({ codec: 'mp3', bitrate: 96_000 });
    expect(recipeForPlayer(pocket, 'song', opus)).toMatchObject({ codec: 'aac', bitrate: 96_000 });
  });

  test('ALAC in an MP4 loses nothing, AAC in it does', () => {
    const mp4 = (codec: string) => source('mp4', { codec }, { soundBytes: (128_000 / 8) * 200 });
    expect(recipeForPlayer(jukebox, 'song', mp4('alac'))).toMatchObject({ bitrate: 256_000 });
    expect(recipeForPlayer(jukebox, 'song', mp4('mp4a'))).toMatchObject({ bitrate: 128_000 });
  });

  test('speech takes less, and one channel half of that', () => {
    expect(recipeForPlayer(jukebox, 'audiobook', source('flac'))).toMatchObject({ bitrate: 96_000 });
    expect(recipeForPlayer(jukebox, 'audiobook', source('flac', { channels: 1 }))).toMatchObject({
      bitrate: 48_000,
      channels: 1,
    });
  });

  test('samples of one bit become samples of 24, at a rate that a player takes and that divides theirs', () => {
    const dsd = source(
      'dsf',
      { codec: 'DSD', sampleRate: 2_822_400 },
      { soundBytes: (2_822_400 / 8) * 2 * 200 },
    );
    const whole = recipeForPlayer(attic, 'song', dsd);
    expect(whole).toMatchObject({ codec: 'flac', sampleRate: 176_400, mostBits: 24 });
    // Of plain samples of 24 bits, what FLAC leaves.
    expect(bytesMade(whole as SoundRecipe, dsd) / (176_400 * 3 * 2 * 200)).toBeCloseTo(0.65, 2);
    const takes = attic.takes.map((take) => ({ ...take, most: { ...take.most, sampleRate: 96_000 } }));
    expect(recipeForPlayer({ ...attic, takes }, 'song', dsd)).toMatchObject({ sampleRate: 88_200 });
    expect(recipeForPlayer(jukebox, 'song', dsd)).toMatchObject({ codec: 'mp3', sampleRate: 44_100 });
  });

  test('a bit depth that is too high comes down, and a variable rate is made where that is wished', () => {
    const takes = attic.takes.map((take) => ({ ...take, most: { ...take.most, bits: 16 } }));
    const deep = source('flac', { codec: 'FLAC', bits: 24 });
    expect(refusalOf({ ...attic, takes }, 'song', deep)).toBe('bits');
    expect(refusalOf(attic, 'song', deep)).toBeNull();
    expect(recipeForPlayer({ ...attic, takes }, 'song', deep)).toMatchObject({ codec: 'flac', mostBits: 16 });
    const wishes = {
      music: null,
      speech: null,
      mostRate: null,
      mono: 'never',
      mostBits: 16,
      variable: true,
    } as const;
    const made = (codec: 'flac' | 'mp3') =>
      recipeForPlayer({ ...jukebox, twins: { ...wishes, codec } }, 'song', deep) as SoundRecipe;
    expect(made('mp3')).toMatchObject({ codec: 'mp3', variable: true, bitrate: 256_000 });
    expect(recipeKey(made('mp3'))).not.toBe(recipeKey({ ...made('mp3'), variable: undefined }));
    // What varies in one codec does not in another, and Galley takes no FLAC.
    expect(made('flac')).not.toHaveProperty('variable');
  });

  test('why nothing can be made is said', () => {
    const film = source('matroska', {}, {});
    const seen: TwinSource = {
      ...film,
      streams: [...film.streams, { ...film.streams[0]!, type: 'picture' }],
    };
    expect(recipeForPlayer(jukebox, 'song', seen)).toBe('noPicture');
    expect(recipeForPlayer(jukebox, 'song', { ...film, streams: [] })).toBe('noSound');
    expect(recipeForPlayer(pocket, 'ringtone', source('flac'))).toBe('seconds');
    expect(recipeForPlayer(jukebox, 'film', source('flac'))).toBe('noCodec');
  });

  test('a file that would be too large is made smaller, down to what can be', () => {
    const small = (largestFile: number) => readRulebook({ ...galley, disk: { ...galley.disk, largestFile } });
    expect(recipeForPlayer(small(3_000_000), 'song', source('flac'))).toMatchObject({ bitrate: 112_000 });
    expect(recipeForPlayer(small(300_000), 'song', source('flac'))).toBe('bytes');
  });

  test('whatever the file, what is made of it is taken, has no higher rate and no more channels', () => {
    const made = fc.record({
      format: fc.constantFrom<FormatId>('flac', 'opus', 'vorbis', 'wav', 'aiff', 'matroska', 'mp4', 'mp3'),
      codec: fc.constantFrom('FLAC', 'alac', 'mp4a', 'Opus', 'A_AC3', null),
      channels: fc.constantFrom(1, 2, 6, null),
      sampleRate: fc.constantFrom(8000, 22_050, 44_100, 48_000, 96_000, 192_000, null),
      seconds: fc.constantFrom(3, 25, 200, 36_000, null),
      size: fc.integer({ min: 1000, max: 2_000_000_000 }),
    });
    fc.assert(
      fc.property(
        made,
        fc.constantFrom(attic, jukebox, pocket),
        fc.constantFrom('song', 'audiobook', 'podcast', 'ringtone'),
        ({ format, codec, channels, sampleRate, seconds, size }, rulebook, kind) => {
          const file = source(format, { codec, channels, sampleRate }, { size, durationSeconds: seconds });
          const recipe = recipeForPlayer(rulebook, kind, file);
          if (typeof recipe === 'string' || isVideo(recipe)) return;
          const { named, format: own } = codecFacts(recipe.codec);
          const stream: Stream = { ...file.streams[0]!, ...recipe, codec: named };
          const twin = { ...file, format: own, size: bytesMade(recipe, file), streams: [stream] };
          expect(refusalOf(rulebook, kind as 'song', twin)).toBe(null);
          expect(recipe.channels).toBeLessThanOrEqual(channels ?? 2);
          if (sampleRate && sampleRate >= 16_000 && recipe.codec !== 'opus')
            expect(recipe.sampleRate).toBeLessThanOrEqual(sampleRate);
        },
      ),
      { seed: 27, numRuns: 500 },
    );
  });

  test('what a rulebook wishes is made where the player takes it, and never up', () => {
    const wishes = {
      codec: 'aac',
      music: 128_000,
      speech: null,
      mostRate: 22_050,
      mono: 'speech',
      mostBits: null,
      variable: false,
    } as const;
    const wishing = { ...pocket, twins: wishes };
    expect(recipeForPlayer(wishing, 'song', source('flac'))).toMatchObject({
      codec: 'aac',
      bitrate: 128_000,
      sampleRate: 22_050,
      channels: 2,
    });
    expect(recipeForPlayer(wishing, 'audiobook', source('flac'))).toMatchObject({
      channels: 1,
      bitrate: 48_000,
    });
    // Galley takes no AAC: it gets what it takes.
    expect(recipeForPlayer({ ...jukebox, twins: wishes }, 'song', source('flac'))).toMatchObject({
      codec: 'mp3',
    });
    const lossless = { ...pocket, twins: { ...wishes, codec: 'alac' as const } };
    const opus = source('opus', { codec: 'Opus' }, { soundBytes: (64_000 / 8) * 200 });
    expect(recipeForPlayer(lossless, 'song', opus)).toMatchObject({ codec: 'aac', bitrate: 64_000 });
  });

  test('two players that ask for the same share one', () => {
    const item = makeItem('x');
    const file = { ...item.facts, format: item.format, size: item.size };
    const [a, b] = [pocket, { ...pocket, id: 'other' }].map((own) => recipeForPlayer(own, 'song', file));
    expect(typeof a === 'string' || typeof b === 'string' ? '' : recipeKey(a!) === recipeKey(b!)).toBe(true);
  });
});

test.each([
  [44_100, null, null, 44_100],
  [96_000, [44_100, 48_000], null, 48_000],
  [88_200, [44_100, 48_000], null, 44_100],
  [192_000, null, 96_000, 96_000],
  [176_400, null, 96_000, 88_200],
  [22_050, [44_100], null, 44_100],
  [96_000, [44_100], 32_000, null],
])('of %i Hz, where %j are known and %s are taken, %s are kept', (own, rates, most, kept) => {
  expect(rateFor(own, rates, most ?? Infinity)).toBe(kept);
});
