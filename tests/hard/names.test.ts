import { withoutExtension } from '../../src/lib/core/paths';
import { expect, test } from 'vitest';
import { toTexts, type ItemId } from '../../src/lib/core/items';
import { lengthIn, pathKey } from '../../src/lib/core/naming';
import { NO_CHOICES, planRun } from '../../src/lib/core/plan';
import { RULEBOOKS } from '../../src/lib/rulebooks';
import { makeItem, planItem } from '../helpers/items';
import { TRIAL_TIME, seeded, sized, tell } from './size';

const PIECES = [
  'a',
  'B',
  'ß',
  'ſ',
  'ς',
  'Σ',
  'µ',
  'İ',
  'ı',
  'ﬁ',
  'é',
  'e\u0301',
  '海',
  '👩‍👩‍👧',
  '🏴‍☠️',
  ' ',
  '  ',
  '.',
  '..',
  '/',
  '\\',
  ':',
  '*',
  '?',
  '"',
  '<',
  '>',
  '|',
  '\0',
  '\n',
  '\t',
  '\u202e',
  '\u200f',
  '\ufeff',
  '\ud800',
  '\udc00',
  'CON',
  'nul',
  'com1',
  'LPT¹',
  'nul ',
  'CONIN$',
  'e\u202e\u0301',
  '\u200b\u2060',
  '\u3164',
  'Low Water',
  `n${'\u0301'.repeat(400)}`,
  'x'.repeat(300),
  'ö'.repeat(150),
  '-',
  '_',
  ';',
  '%2e',
  '\u2028',
  '\u0085',
  '\u3000',
];

test(
  'whatever tags say, names are safe, within their limits, apart from each other, and never empty',
  { timeout: TRIAL_TIME },
  () => {
    const random = seeded(29);
    const count = sized(300_000, 12_000);
    const AT_ONCE = 500;
    const { disk: names } = RULEBOOKS.attic;
    const text = () => {
      let out = '';
      for (let pieces = Math.floor(random() * 5); pieces >= 0; pieces--)
        out +=
          random() < 0.9
            ? (PIECES[Math.floor(random() * PIECES.length)] as string)
            : String.fromCharCode(random() * 65_536);
      return out;
    };
    let paths = 0;
    for (let done = 0; done < count; done += AT_ONCE) {
      const items = Array.from({ length: AT_ONCE }, (_, index) => {
        const isVideo = random() < 0.2;
        return makeItem(
          `i${done + index}`,
          {
            title: text(),
            artist: toTexts([text()]),
            albumArtist: random() < 0.5 ? text() : null,
            album: text(),
            track: Math.floor(random() * 40),
            date: random() < 0.5 ? '2020' : null,
          },
          isVideo ? { settled: 'musicVideo', format: 'mp4', path: `v/${index}.mp4` } : {},
        );
      });
      const shorten = items.map(({ id }): ItemId => id);
      const plan = planRun({
        items: items.map(planItem),
        rulebook: RULEBOOKS.attic,
        there: [],
        placed: [],
        choices: { ...NO_CHOICES, shorten },
        policy: 'leads',
        token: 'token',
      });
      const keys = new Set<string>();
      for (const step of plan.steps) {
        if (step.type === 'makeFolder') continue;
        const key = pathKey(step.path, names);
        const fault = keys.has(key) ? 'two of one name' : faultOf(step.path);
        if (fault) throw new Error(`${fault}: ${JSON.stringify(step.path)}`);
        keys.add(key);
        paths++;
      }
      // Everything is planned for or told.
      const told = new Set(plan.findings.flatMap((finding) => finding.items));
      const planned = new Set(plan.paths.map(({ item }) => item));
      for (const { id } of items) expect(planned.has(id) || told.has(id)).toBe(true);
    }
    tell('tag sets through names', { sets: count, paths, failures: 0 });

    function faultOf(path: string): string | null {
      if (!path.isWellFormed()) return 'half a letter pair';
      if (path.normalize('NFC') !== path) return 'another form of Unicode';
      if (lengthIn(path, 'bytes') > names.maxPath) return 'too long a path';
      const parts = path.split('/');
      if (parts.length !== (path.startsWith('Music Videos/') ? 3 : 4)) return 'another number of folders';
      for (const part of parts) {
        if (part === '') return 'an empty name';
        if (lengthIn(part, 'bytes') > names.maxName) return 'too long a name';
        if (/[<>:"|?*\\\p{Cc}\u2028\u2029\u200e\u200f\u202a-\u202e\u2066-\u2069\ufeff]/u.test(part))
          return 'an unsafe letter';
        if (/^\.|^ |[. ]$/.test(part)) return 'a dot or blank at an end';
        if (/^(con|prn|aux|nul|conin\$|conout\$|com[0-9¹²³]|lpt[0-9¹²³]) *(\.|$)/i.test(part))
          return 'the name of a device';
        const stem = part === parts.at(-1) ? withoutExtension(part) : part;
        if (/^[\p{C}\p{Z}\p{M}\u3164]*$/u.test(stem)) return 'a name that nobody can see';
      }
      return null;
    }
  },
);
