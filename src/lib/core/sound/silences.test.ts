import { describe, expect, test } from 'vitest';
import { levelOf, proposedStarts, silencesIn, startBehind } from './silences';

describe('silences', () => {
  const loud = (seconds: number, peak = 0.8) => Array<number>(seconds * 10).fill(levelOf(peak));
  test('are found by how loud the recording is, and chapters proposed a little before their end', () => {
    const peaks = Uint8Array.from([
      ...loud(2, 0.001),
      ...loud(20),
      ...loud(3, 0.002),
      ...loud(30),
      ...loud(1, 0),
      ...loud(10),
    ]);
    const found = silencesIn({ peaks, perSecond: 10 }, 1.5);
    expect(found).toEqual([
      { startSeconds: 0, endSeconds: 2 },
      { startSeconds: 22, endSeconds: 25 },
    ]);
    const proposed = proposedStarts(found, 66);
    expect(proposed.map(startBehind)).toEqual([24.75]);
    expect(silencesIn({ peaks: new Uint8Array(0), perSecond: 10 }, 1)).toEqual([]);
  });
});
