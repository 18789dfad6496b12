import { RULEBOOKS } from '../../src/lib/rulebooks';
import {
  LivePlan,
  NO_CHOICES,
  planRun,
  toPlanItem,
  type PlacedFile,
  type PlanItem,
  type SideChoice,
  type Step,
  type ThereFile,
} from '../../src/lib/core/plan';
import { editItem, type Item, type ItemId } from '../../src/lib/core/items';
import { outgoingOf } from '../../src/lib/formats';
import { makeItem } from '../helpers/items';

/** A made library: albums of ten songs, one in fifty of them torn, and one video to every forty songs. */
export function makeLibrary(count: number): Item[] {
  return Array.from({ length: count }, (_, index) => {
    const album = Math.floor(index / 10);
    const isVideo = index % 40 === 39;
    const fields = {
      title: `Song ${index}`,
      artist: [`Artist ${album % 700}`],
      albumArtist: album % 50 === 0 && index % 10 === 3 ? null : `Artist ${album % 700}`,
      album: `Album ${album}`,
      date: '1960' + (album % 60),
      track: (index % 10) + 1,
      tracks: 10,
      genre: ['folk'],
    };
    return makeItem(`item-${index}` as ItemId, fields, {
      path: `Music/Artist ${album % 700}/Album ${album}/${String((index % 10) + 1).padStart(2, '0')} Song ${index}.${isVideo ? 'mp4' : 'flac'}`,
      settled: isVideo ? 'musicVideo' : 'song',
      format: isVideo ? 'mp4' : 'flac',
      native: [
        { format: 'vorbis', id: 'TITLE', value: `Song ${index}` },
        { format: 'vorbis', id: 'ARTIST', value: `Artist ${album % 700}` },
      ],
    });
  });
}

function median(act: () => void, times = 3): number {
  const taken = Array.from({ length: times }, () => {
    const start = performance.now();
    act();
    return performance.now() - start;
  });
  return taken.sort((a, b) => a - b)[Math.floor(times / 2)] as number;
}

/** Planning and rehearsing a made library, against parsing its JSON, and against half of it. */
export function benchPlan(): {
  items: number;
  parseMs: number;
  planMs: number;
  halfMs: number;
  /** Bringing the plans for all players up to one edit: usually, and at worst. */
  editMs: number;
  worstEditMs: number;
  /** Deciding which side of one changed file counts, and of five hundred in one act, where all items lie there. */
  decisionMs: number;
  manyDecisionsMs: number;
  steps: number;
} {
  const items = makeLibrary(100_000);
  const json = JSON.stringify(items);
  const parseMs = median(() => JSON.parse(json));
  const input = items.map((item) => toPlanItem(item, outgoingOf));
  const nothing = { there: [], placed: [] };
  const plan = (part: typeof input) =>
    planRun({
      items: part,
      rulebook: RULEBOOKS.attic,
      ...nothing,
      choices: NO_CHOICES,
      policy: 'leads',
      token: 'bench',
    });
  const { steps } = plan(input);
  const players = Object.values(RULEBOOKS).map((rulebook) => {
    const live = new LivePlan(rulebook);
    live.change(input, []);
    live.digest();
    return live;
  });
  let turn = 0;
  const edits = Array.from({ length: 31 }, () => {
    const at = turn++ * 1000 + 3;
    const item = editItem(items[at] as Item, { title: `Edited ${at}` });
    const start = performance.now();
    for (const live of players) {
      live.change([toPlanItem(item, outgoingOf)], []);
      live.digest();
    }
    return performance.now() - start;
  }).sort((a, b) => a - b);
  const [decisionMs, manyDecisionsMs] = benchDecisions(input, steps);
  return {
    items: items.length,
    decisionMs,
    manyDecisionsMs,
    parseMs,
    planMs: median(() => plan(input)),
    editMs: edits[15] as number,
    worstEditMs: edits.at(-1) as number,
    halfMs: median(() => plan(input.slice(0, 50_000))),
    steps: steps.length,
  };
}

/** Five hundred files of a player on which all items lie were changed there: one of them is decided, then all the others. */
function benchDecisions(input: readonly PlanItem[], steps: readonly Step[]): readonly [number, number] {
  const placed = steps.flatMap((step): PlacedFile[] =>
    'signature' in step && step.type !== 'move'
      ? [{ path: step.path, owner: step.owner, signature: step.signature, size: 1000, digest: step.path }]
      : [],
  );
  const changed = new Set(placed.filter((_, index) => index % 200 === 7).slice(0, 500));
  const there = placed.map((file): ThereFile => {
    const { path, size, digest } = file;
    return changed.has(file) ? { path, size: 999, digest: 'theirs' } : { path, size, digest };
  });
  const live = new LivePlan(RULEBOOKS.attic);
  const decide = (sides: readonly SideChoice[]) => {
    const start = performance.now();
    live.see(there, { placed, choices: { ...NO_CHOICES, sides }, policy: 'ask' });
    live.digest();
    return performance.now() - start;
  };
  decide([]);
  live.change(input, []);
  live.digest();
  const all = [...changed].map(({ path }): SideChoice => {
    return { path, was: { size: 999, digest: 'theirs' }, side: 'here' };
  });
  // One after the other, as a curator goes through them.
  const single = Array.from({ length: 9 }, (_, index) => decide(all.slice(0, index + 1))).sort(
    (a, b) => a - b,
  );
  return [single[4] as number, decide(all)];
}
