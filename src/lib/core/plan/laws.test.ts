import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { planItem, makeItem } from '../../../../tests/helpers/items';
import { editItem, type FormatId, type Item, type ItemId } from '../items';
import type { Kind } from '../kinds';
import { roleOf, type Rulebook } from '../rulebooks';
import { RULEBOOKS } from '$lib/rulebooks';
import { outgoingFields } from './plan-item';
import { planRun, type Plan } from './plan';
import { rehearse, type Showing, type TreeFile } from './showing';
import { NO_CHOICES, type PlacedFile, type PlayerChoices, type ThereFile } from './step';

/*
 * Laws of planning, on made libraries and players: what a rehearsal shows is what lies there once the very steps are
 * done, and a plan that was carried out has nothing left to do.
 */

const word = fc.constantFrom(
  'Wick',
  'wick',
  'Ebb',
  'Kelp Road?',
  'AC/DC',
  'Straße',
  'STRASSE',
  '.hidden',
  'a'.repeat(120),
);
const ENDINGS: Readonly<Partial<Record<FormatId, string>>> = {
  mp3: 'mp3',
  flac: 'flac',
  mp4: 'm4a',
  opus: 'opus',
  matroska: 'mkv',
};
const kind = fc.constantFrom<Kind>(
  'song',
  'song',
  'song',
  'musicVideo',
  'audiobook',
  'podcast',
  'ringtone',
  'film',
);
const format = fc.constantFrom<FormatId>('mp3', 'mp3', 'flac', 'mp4', 'opus', 'matroska');

const fields = fc.record({
  title: fc.option(word, { freq: 6 }),
  artist: fc.option(fc.uniqueArray(word, { minLength: 1, maxLength: 2 }), { freq: 6 }),
  albumArtist: fc.option(word),
  album: fc.option(word, { freq: 8 }),
  date: fc.option(fc.constantFrom('2019', '2019-05-04', '2001')),
  track: fc.option(fc.nat(3)),
  disc: fc.option(fc.nat(2)),
  genre: fc.option(fc.constantFrom(['folk'], ['folk', 'sea choir'])),
  compilation: fc.option(fc.constant(true)),
  show: fc.option(word),
});

const library = fc
  .array(fc.tuple(kind, format, fields, fc.option(word), fc.nat(1)), { maxLength: 14 })
  .map((list) =>
    list.map(([settled, own, said, title, folder], index): Item => {
      const item = makeItem(`i${index}`, said, {
        settled,
        format: own,
        path: `in ${folder}/${index}.${ENDINGS[own] ?? own}`,
        size: 1000 + index,
      });
      const codec = own === 'mp4' ? 'mp4a' : own;
      const streams = item.facts.streams.map((stream) => ({ ...stream, codec }));
      const whole = { ...item, facts: { ...item.facts, streams, durationSeconds: 20 } };
      return title === null ? whole : editItem(whole, { title });
    }),
  );

/** Files that others put on the player, some of them where ours would go. */
const foreign = fc
  .uniqueArray(
    fc.constantFrom(
      'Music/Wick/Ebb/01 Wick.mp3',
      'music/WICK/other.mp3',
      'Music Videos/Wick - Ebb/Wick - Ebb.mp4',
      'Music Videos/Wick - Ebb/Wick - Ebb.xml',
      'Music Videos/loose/clip.mp4',
      'Music Videos/loose/note.info',
      'folk/Wick - Ebb/folder.jpg',
      'Ringtones/Ebb.mp3',
      'Documents/letter.txt',
    ),
    { maxLength: 5 },
  )
  .map((paths) => paths.map((path): ThereFile => ({ path, size: 7, digest: null })));

const choices = fc
  .record({
    replace: fc.subarray(['Music/Wick/Ebb/01 Wick.mp3', 'folk/Wick - Ebb/folder.jpg']),
    leftOut: fc.subarray(['i0', 'i1'] as ItemId[]),
    shorten: fc.subarray(['i0', 'i1', 'i2', 'i3'] as ItemId[]),
    renames: fc.subarray([
      { from: 'Music Videos/loose/clip.mp4', to: 'Music Videos/loose/loose.mp4' },
      { from: 'Music Videos/loose/clip.mp4', to: 'Music Videos/Wick - Ebb/Wick - Ebb.mp4' },
      { from: 'music/WICK/other.mp3', to: 'Music/Wick/Ebb/01 Wick.mp3' },
    ]),
  })
  .map((chosen): PlayerChoices => chosen);

interface Player {
  readonly there: readonly ThereFile[];
  readonly placed: readonly PlacedFile[];
}

const planOf = (
  items: readonly Item[],
  rulebook: Rulebook,
  { there, placed }: Player,
  choices: PlayerChoices,
): Plan => planRun({ items: items.map(planItem), rulebook, there, placed, choices, token: 'token' });

/** The player once the steps are done, by what steps say and nothing else. */
function apply({ there, placed }: Player, { steps }: Plan): Player {
  const files = new Map(there.map((file) => [file.path, file]));
  const ours = new Map(placed.map((file) => [file.path, file]));
  for (const step of steps) {
    if (step.type === 'makeFolder') continue;
    if (step.type === 'remove') {
      expect(files.delete(step.path)).toBe(true);
      ours.delete(step.path);
    } else if (step.type === 'move') {
      const file = files.get(step.from);
      if (!file) throw new Error(`nothing at ${step.from}`);
      expect(files.has(step.path) && step.replaces === null && step.path !== step.from).toBe(false);
      files.delete(step.from);
      files.set(step.path, { ...file, path: step.path });
      const known = ours.get(step.from);
      ours.delete(step.from);
      if (known) ours.set(step.path, { ...known, path: step.path });
    } else {
      expect([step.path, files.has(step.path)]).toEqual([step.path, step.replaces !== null]);
      const size = step.type === 'copy' ? step.original.size : 3;
      files.set(step.path, { path: step.path, size, digest: null });
      ours.set(step.path, {
        path: step.path,
        item: step.item,
        signature: step.signature,
        size,
        digest: null,
      });
    }
  }
  return { there: [...files.values()], placed: [...ours.values()] };
}

/** What a player of this rulebook would read of these files: their bytes say what the last copy wrote into them. */
function readBack(player: Player, plan: Plan, items: readonly Item[], rulebook: Rulebook): Showing {
  const byId = new Map(items.map((item) => [item.id, item]));
  const texts = new Map(
    plan.steps.flatMap((step) => (step.type === 'writeText' ? [[step.path, step.text] as const] : [])),
  );
  const ours = new Map(player.placed.map((file) => [file.path, file]));
  const tree = player.there.map(({ path }): TreeFile => {
    const role = roleOf(rulebook, path);
    const record = ours.get(path);
    const item = record?.item ? byId.get(record.item) : undefined;
    if (!record || !item) return { path, role, item: null, kind: null, fields: null, text: null };
    if (role !== 'media')
      return {
        path,
        role,
        item: null,
        kind: null,
        fields: null,
        text: texts.get(path) ?? (role === 'sidecar' ? record.signature : null),
      };
    return {
      path,
      role,
      item: item.id,
      kind: item.settled,
      fields: outgoingFields(planItem(item)),
      text: null,
    };
  });
  return rehearse(tree, rulebook);
}

const sorted = ({ nodes, unplaced }: Showing) => ({
  nodes,
  unplaced: [...unplaced].sort((a, b) => (a.path < b.path ? -1 : 1)),
});

const RUNS = { seed: 11, numRuns: 500 };

describe.each(Object.values(RULEBOOKS))('$name', (rulebook) => {
  test('the rehearsal is what the steps make of the player', () => {
    fc.assert(
      fc.property(library, foreign, choices, (items, there, chosen) => {
        const plan = planOf(items, rulebook, { there, placed: [] }, chosen);
        const after = apply({ there, placed: [] }, plan);
        expect(sorted(readBack(after, plan, items, rulebook))).toEqual(sorted(plan.showing));
      }),
      RUNS,
    );
  });

  test('a plan that was carried out has nothing left to do', () => {
    fc.assert(
      fc.property(library, foreign, (items, there) => {
        const plan = planOf(items, rulebook, { there, placed: [] }, NO_CHOICES);
        const after = apply({ there, placed: [] }, plan);
        const again = planOf(items, rulebook, after, NO_CHOICES);
        expect(again.steps).toEqual([]);
        expect(sorted(again.showing)).toEqual(sorted(plan.showing));
      }),
      RUNS,
    );
  });

  test('after any edits and departures it is brought up to date, and then has nothing left to do', () => {
    const change = fc.record({ title: fc.option(word), album: fc.option(word), leaves: fc.boolean() });
    fc.assert(
      fc.property(library, foreign, fc.array(change, { maxLength: 14 }), (items, there, changes) => {
        const first = planOf(items, rulebook, { there, placed: [] }, NO_CHOICES);
        const between = apply({ there, placed: [] }, first);
        const changed = items.flatMap((item, index): Item[] => {
          const own = changes[index];
          if (!own) return [item];
          const { leaves, ...edits } = own;
          return leaves ? [] : [editItem(item, edits)];
        });
        const second = planOf(changed, rulebook, between, NO_CHOICES);
        const after = apply(between, second);
        const known = [...changed, ...items.filter(({ id }) => !changed.some((one) => one.id === id))];
        const held = new Set<ItemId>(second.held);
        // Items that something holds back keep what an earlier run put there: what that says is not this plan's.
        if (held.size === 0)
          expect(sorted(readBack(after, second, known, rulebook))).toEqual(sorted(second.showing));
        expect(planOf(changed, rulebook, after, NO_CHOICES).steps).toEqual([]);
      }),
      RUNS,
    );
  });
});
