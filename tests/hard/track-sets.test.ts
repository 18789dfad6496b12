import { readFileSync } from 'node:fs';
import { expect, test } from 'vitest';
import { cachedSource, joinSpans, memorySource, spansLength } from '../../src/lib/core/bytes';
import type { TrackEdit } from '../../src/lib/core/items';
import { FormatError, WRITABLE } from '../../src/lib/formats';
import { readMedia } from '../../src/lib/formats/reading';
import { mutate } from './mutate';
import { TRIAL_TIME, computed, seeded, sized, tell } from './size';

/** Milliseconds of computing that no file may pass, whatever it is. */
const MOST_MS = 2000;

const FILMS = (['matroska', 'mp4'] as const).map((format) => {
  const ending = format === 'mp4' ? 'mp4' : 'mkv';
  const url = new URL(`../fixtures/containers/film.${ending}`, import.meta.url);
  return { format, path: `film.${ending}`, bytes: new Uint8Array(readFileSync(url)) };
});

/** Some tracks left out, some moved, sometimes subtitles added. */
function anySet(random: () => number): readonly TrackEdit[] {
  const ids = [1, 2, 3, 4, 5, 6];
  const edits = ids.map((id, index): TrackEdit => ({
    id,
    place: (index * 5) % 7,
    isLeftOut: random() < 0.4,
  }));
  const at = Math.floor(random() * 2000) / 1000;
  const cues = [{ startSeconds: at, endSeconds: at + 0.5, text: 'Øyets lys' }];
  return random() < 0.4 ? [...edits, { id: 1001, place: 9, added: cues, language: 'nb', name: '' }] : edits;
}

test(
  'damaged films lose and get tracks, or say why they do not, in time',
  { timeout: TRIAL_TIME },
  async () => {
    const random = seeded(2711);
    const count = sized(6000, 500);
    const outcomes = new Map<string, number>();
    let slowest = 0;
    for (let index = 0; index < count; index++) {
      const { format, path, bytes } = FILMS[index % FILMS.length]!;
      const damaged = mutate(bytes, random);
      const tracks = anySet(random);
      const source = memorySource(damaged);
      const began = computed();
      const outcome = await (async () => {
        // What cannot be taken in is never written.
        const isRead = await readMedia(source, path).then(
          () => true,
          () => false,
        );
        if (!isRead) return 'unread';
        const writer = await WRITABLE.get(format)?.load();
        if (!writer) throw new Error(format);
        const { spans } = await writer.rewrite(cachedSource(source), { fields: { title: 'Ebb' }, tracks });
        // What is kept is in bounds, and what is written can be read.
        for (const span of spans)
          if (span.type === 'kept') expect(span.start >= 0 && span.end <= damaged.length).toBe(true);
        const written = await joinSpans(source, spans);
        expect(written.length).toBe(spansLength(spans));
        await readMedia(memorySource(written), path);
        return 'laid';
      })().catch((error: unknown) => {
        if (error instanceof FormatError) return error.code;
        throw new Error(`trial ${index}`, { cause: error });
      });
      slowest = Math.max(slowest, computed() - began);
      outcomes.set(outcome, (outcomes.get(outcome) ?? 0) + 1);
    }
    expect(slowest).toBeLessThan(MOST_MS);
    expect(outcomes.get('laid') ?? 0).toBeGreaterThan(count / 10);
    tell('tracks of damaged films', { ...Object.fromEntries(outcomes), slowest: Math.round(slowest) });
  },
);
