import { describe, expect, test } from 'vitest';
import type { FindingCode } from '../../src/lib/core/plan';
import { findingWords } from '../../src/lib/ui/words/finding-words';
import { bytes, clock, counted, timeLeft } from '../../src/lib/ui/words/amounts';
import { countedKind } from '../../src/lib/ui/words/kind-words';
import { ParsePool } from '../../src/lib/workers/parse-pool';
import { WorkerClient, type Port } from '../../src/lib/workers/worker-client';
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
      all
        .slice(0, 20)
        .every((one) => one.type === 'read' && one.read.file.fields.title === 'Inventory of Gulls'),
    ).toBe(true);
    expect(all[20]).toMatchObject({ type: 'unread', code: 'notMedia' });
  });

  test('gives pictures by their place', async () => {
    const pool = new ParsePool(() => channel(serveParsing), 1);
    const blob = await demoBlob(GULLS);
    expect(await pool.picture(blob, { index: 0 })).toMatchObject({ type: 'image/jpeg' });
    expect(await pool.picture(blob, { index: 7 })).toBeNull();
    expect(await pool.picture(new Blob(['broken']), { index: 0 })).toBeNull();
  });
});

/** A worker that answers each request by its text, unless that asks it to fall over or to hang. */
function moody(log: string[]): Port {
  const page: Port = { postMessage: () => undefined, onmessage: null, onerror: null };
  let alive = true;
  page.terminate = () => {
    alive = false;
    log.push('terminated');
  };
  page.postMessage = (message) => {
    const { id, path } = message as { id: number; path: string };
    log.push(path);
    queueMicrotask(() => {
      if (!alive || path === 'hang') return;
      if (path === 'fall') page.onerror?.({ message: 'out of memory' } as ErrorEvent);
      else if (path !== 'wait')
        page.onmessage?.({ data: { type: 'answered', id, value: path } } as MessageEvent);
    });
  };
  return page;
}

describe('the client of a worker', () => {
  type Asked = { readonly id: number; readonly path: string };
  const client = (log: string[] = []) => {
    const ports: Port[] = [];
    const made = new WorkerClient<Asked>(() => {
      const port = moody(log);
      ports.push(port);
      return port;
    });
    return { made, ports, log };
  };

  test('tells everyone who waits when the worker falls over, and starts another', async () => {
    const { made, ports } = client();
    const both = Promise.allSettled([made.ask({ path: 'wait' }), made.ask({ path: 'fall' })]);
    for (const outcome of await both)
      expect(outcome).toMatchObject({
        status: 'rejected',
        reason: { code: 'died', message: 'out of memory' },
      });
    expect(await made.ask({ path: 'again' })).toBe('again');
    expect(ports).toHaveLength(2);
  });

  test('gives up a worker that does not answer in its time', async () => {
    const { made, log } = client();
    await expect(made.ask({ path: 'hang' }, { limit: 20 })).rejects.toMatchObject({ code: 'late' });
    expect(log).toContain('terminated');
    expect(await made.ask({ path: 'again' }, { limit: 1000 })).toBe('again');
  });

  test('what counts on an earlier start of the worker is refused by the next', async () => {
    const { made } = client();
    const { generation } = made;
    expect(await made.ask({ path: 'a' }, { generation })).toBe('a');
    await made.ask({ path: 'fall' }).catch(() => undefined);
    await expect(made.ask({ path: 'b' }, { generation })).rejects.toMatchObject({ code: 'died' });
  });

  test('once ended, it answers nothing and starts nothing', async () => {
    const { made, ports, log } = client();
    const waiting = made.ask({ path: 'wait' });
    made.end();
    await expect(waiting).rejects.toMatchObject({ code: 'ended' });
    await expect(made.ask({ path: 'a' })).rejects.toMatchObject({ code: 'ended' });
    expect(ports).toHaveLength(1);
    expect(log).toContain('terminated');
  });
});

describe('a file that brings its worker down', () => {
  const pool = (limit: number, log: string[] = []) => new ParsePool(() => moody(log), 2, limit);
  const blob = new Blob([]);

  test.each([
    ['fall', 'unknownFormat', 'out of memory'],
    ['hang', 'tooMuch', 'no answer within'],
  ])('%s: it alone is not read; those beside it are', async (path, code, detail) => {
    const log: string[] = [];
    const reading = pool(40, log);
    const paths = ['a', 'b', path, 'c', 'wait-not', 'd', 'e', 'f', 'g', 'h', 'i', 'j'];
    const outcomes = await Promise.all(paths.map((one) => reading.read(one, blob)));
    expect(outcomes.map((one) => (typeof one === 'string' ? one : one.type))).toEqual(
      paths.map((one) => (one === path ? 'unread' : one)),
    );
    expect(outcomes[2]).toMatchObject({ code, detail: expect.stringContaining(detail) });
    expect(await reading.read('later', blob)).toBe('later');
    // It was tried once among others and once alone.
    expect(log.filter((one) => one === path)).toHaveLength(2);
  });

  test('a pool that is ended keeps nobody waiting', async () => {
    const reading = pool(1000);
    const waiting = [reading.read('hang', blob), reading.read('hang', blob)];
    const settled = Promise.allSettled(waiting);
    reading.end();
    expect((await settled).map(({ status }) => status)).toEqual(['rejected', 'rejected']);
    await expect(reading.read('x', blob)).rejects.toMatchObject({ code: 'ended' });
  });
});

describe('words', () => {
  const CODES: readonly FindingCode[] = [
    'missingField',
    'unknownItem',
    'needsTwin',
    'noRoom',
    'oddValue',
    'removedThere',
    'removedBoth',
    'changedBoth',
    'movedThere',
    'addedThere',
    'staysAway',
    'keptThere',
    'kindOpen',
    'kindGuess',
    'noSection',
    'formatRefused',
    'nameMended',
    'nameTooLong',
    'pathTooLong',
    'collision',
    'occupied',
    'folderThere',
    'failedBefore',
    'changedThere',
    'changedUnwanted',
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
        own: 'w',
        is: 'MP3',
        otherIs: 'FLAC',
        value: '7',
        seconds: '700',
        code: 'refused',
        detail: 'no such names',
        bytes: '16800000',
        formats: 'flac:2|opus:1',
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
        },
        'Attic',
      );
      expect(`${what} ${why}`).not.toMatch(/undefined|NaN|\b1 \w+s\b (have|go)/);
    }
  });
  test('amounts', () => {
    expect([clock(63), clock(27_680), clock(null)]).toEqual(['1:03', '7:41:20', 'no length']);
    expect([bytes(999), bytes(1500), bytes(2_100_000_000)]).toEqual(['999 B', '1.5 kB', '2.1 GB']);
    expect([counted(1, 'file'), counted(2000, 'file')]).toEqual(['1 file', '2,000 files']);
    expect([countedKind(1, 'podcast'), countedKind(2000, 'song'), countedKind(1, null)]).toEqual([
      '1 podcast episode',
      '2,000 songs',
      '1 open',
    ]);
    expect([timeLeft(0.2), timeLeft(130), timeLeft(null)]).toEqual(['1 s left', '2 min left', '']);
  });
});
