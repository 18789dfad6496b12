import { expect, test } from 'vitest';
import type { Finding } from '../../src/lib/core/plan';
import { cheapDigest, makeStore, snapshot, STORE_KINDS } from './run-world';
import { seeded, sized, tell } from './size';
import { House, bytesOfSong, newSong } from './sync-world';

/*
 * Others' files lie where ours would go. The curator gives some of them free; a run replaces them, and may be taken
 * back. Then another hand puts another song of the same length at such a name: the permission was not for that one.
 */

const SONGS = 4;

const occupied = (findings: readonly Finding[]) => findings.filter(({ code }) => code === 'occupied');

test.each(STORE_KINDS)('what is free to be replaced is a file, not a name: $name', async (kind) => {
  const random = seeded(29);
  const houses = sized(400, 40);
  let changed = 0;
  for (let index = 0; index < houses; index++) {
    const house = new House(makeStore(kind));
    const { store } = house;
    for (let song = 0; song < SONGS; song++)
      house.add(newSong(`s${song}`, { title: `Song ${song}`, album: 'Ebb', track: song + 1 }));
    const { plan } = await house.plan();
    const paths = plan.paths.map(({ path }) => path).filter(() => random() < 0.7);
    const theirs = (path: string, word: string) =>
      bytesOfSong({ sound: `${word} ${path}`, fields: newSong('x', { title: word }).file.fields });
    for (const path of paths) store.put(path, theirs(path, 'first'));
    const found = occupied((await house.plan()).plan.findings).flatMap(({ places }) => places);
    expect([...found].sort()).toEqual([...paths].sort());
    // As the application asks for it: each file by its digest, read from the place where its listing has none.
    house.choices = {
      ...house.choices,
      replace: paths.map((path) => {
        const bytes = store.files.get(path) as Uint8Array;
        return { path, was: { size: bytes.length, digest: cheapDigest(bytes) } };
      }),
    };
    const atFirst = snapshot(store);
    const run = await house.run();
    expect(house.songs().size).toBe(SONGS);
    await house.takeBack(run);
    expect(snapshot(store)).toEqual(atFirst);
    const others = paths.filter(() => random() < 0.5);
    for (const path of others) store.put(path, theirs(path, 'other'));
    changed += others.length;
    const again = await house.plan();
    expect(occupied(again.plan.findings).flatMap(({ places }) => places)).toEqual(others.sort());
    await house.takeAsGood(await house.run());
    for (const path of others) expect(store.files.get(path)).toEqual(theirs(path, 'other'));
    expect(house.songs().size).toBe(SONGS);
  }
  expect(changed).toBeGreaterThan(houses / 2);
  tell(`permissions ${kind.name}`, { houses, 'files replaced by another hand': changed, failures: 0 });
});
