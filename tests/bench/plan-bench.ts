import { RULEBOOKS } from '../../src/lib/rulebooks';
import { LivePlan, NO_CHOICES, planRun, toPlanItem } from '../../src/lib/core/plan';
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
  return {
    items: items.length,
    parseMs,
    planMs: median(() => plan(input)),
    editMs: edits[15] as number,
    worstEditMs: edits.at(-1) as number,
    halfMs: median(() => plan(input.slice(0, 50_000))),
    steps: steps.length,
  };
}
