import { RULEBOOKS } from '../../src/lib/rulebooks';
import { NO_CHOICES, PlanMemory, planRun, toPlanItem } from '../../src/lib/core/plan';
import { editItem, type Item, type ItemId } from '../../src/lib/core/items';
import { outgoingOf } from '../../src/lib/formats';
import { makeItem } from '../helpers/items';

/** A made library: albums of ten songs, one in fifty of them torn, and one video to every forty songs. */
function makeLibrary(count: number): Item[] {
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
  /** Planning again after one edit. */
  againMs: number;
  steps: number;
} {
  const items = makeLibrary(100_000);
  const json = JSON.stringify(items);
  const parseMs = median(() => JSON.parse(json));
  const input = items.map((item) => toPlanItem(item, outgoingOf));
  const memory = new PlanMemory(RULEBOOKS.attic);
  const nothing = { there: [], placed: [] };
  const plan = (part: typeof input, known?: PlanMemory) =>
    planRun(
      { items: part, rulebook: RULEBOOKS.attic, ...nothing, choices: NO_CHOICES, token: 'bench' },
      known,
    );
  const { steps } = plan(input, memory);
  const again = (turn: number) => {
    const item = editItem(items[turn] as Item, { title: `Edited ${turn}` });
    return plan(input.with(turn, toPlanItem(item, outgoingOf)), memory);
  };
  let turn = 0;
  return {
    items: items.length,
    parseMs,
    planMs: median(() => plan(input)),
    againMs: median(() => again(turn++)),
    halfMs: median(() => plan(input.slice(0, 50_000))),
    steps: steps.length,
  };
}
