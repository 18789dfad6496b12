import { describe, expect, test } from 'vitest';
import type { Finding, FindingCode } from '../../src/lib/core/plan';
import { findingWords } from '../../src/lib/ui/words/finding-words';
import { bytes, clock, counted, timeLeft } from '../../src/lib/ui/words/amounts';
import { ParsePool } from '../../src/lib/workers/parse-pool';
import type { Port } from '../../src/lib/workers/parse-protocol';
import { serveParsing } from '../../src/lib/workers/parse-service';
import { readFile } from 'node:fs/promises';
import { channel } from '../helpers/channel';
import { DEMO } from '../helpers/demo';

const demoBlob = async (path: string) => new Blob([await readFile(`${DEMO}/${path}`)]);
const GULLS = 'Music/The Tidewrack Choir/Salt Ledger/01 Inventory of Gulls.flac';

describe('the pool of parsing workers', () => {
  test('answers each file with its own reading, and starts no more workers than it may', async () => {
    const started: Port[] = [];
    const pool = new ParsePool(() => {
      const port = channel(serveParsing);
      started.push(port);
      return port;
    }, 2);
    const blob = await demoBlob(GULLS);
    const all = await Promise.all([
      ...Array.from({ length: 20 }, () => pool.read('a.flac', blob)),
      pool.read('letter.mp3', new Blob(['Dear Dag'])),
    ]);
    expect(started).toHaveLength(2);
    expect(
      all.slice(0, 20).every((one) => one.type === 'read' && one.read.fields.title === 'Inventory of Gulls'),
    ).toBe(true);
    expect(all[20]).toMatchObject({ type: 'unread', code: 'notMedia' });
  });

  test('gives pictures by their place', async () => {
    const pool = new ParsePool(() => channel(serveParsing), 1);
    const blob = await demoBlob(GULLS);
    expect(await pool.picture('a.flac', blob, 0)).toMatchObject({ type: 'image/jpeg' });
    expect(await pool.picture('a.flac', blob, 7)).toBeNull();
    expect(await pool.picture('a.flac', new Blob(['broken']), 0)).toBeNull();
  });
});

describe('words', () => {
  const CODES: readonly FindingCode[] = [
    'missingField',
    'kindOpen',
    'kindGuess',
    'noSection',
    'formatRefused',
    'nameMended',
    'nameTooLong',
    'pathTooLong',
    'collision',
    'occupied',
    'splitAlbum',
    'sidecarMismatch',
    'besideMismatch',
    'cannotWrite',
    'noPicture',
    'pictureShape',
  ];
  test.each(CODES)('a finding of %s has a sentence for one and for many', (code) => {
    for (const count of ['1', '12']) {
      const words = {
        count,
        field: 'year',
        kind: 'song',
        kinds: 'songs',
        format: 'opus',
        limit: '200',
        length: '300',
        path: 'p',
        other: 'o',
      };
      const { what, why } = findingWords(
        {
          code,
          words: {
            ...words,
            album: 'A',
            groups: '2',
            fields: 'year',
            found: '1',
            usual: '2',
            sidecar: 's',
            name: 'n',
            folder: 'f',
            shape: '1×2',
            least: '500',
            instead: 'song',
          },
        } as unknown as Finding,
        'Attic',
      );
      expect(`${what} ${why}`).not.toMatch(/undefined|NaN|\b1 \w+s\b (have|go)/);
    }
  });
  test('amounts', () => {
    expect([clock(63), clock(27_680), clock(null)]).toEqual(['1:03', '7:41:20', 'no length']);
    expect([bytes(999), bytes(1500), bytes(2_100_000_000)]).toEqual(['999 B', '1.5 kB', '2.1 GB']);
    expect([counted(1, 'file'), counted(2000, 'file')]).toEqual(['1 file', '2,000 files']);
    expect([timeLeft(0.2), timeLeft(130), timeLeft(null)]).toEqual(['1 s left', '2 min left', '']);
  });
});
