// Lays the devices of Skerry House out as the demo finds them: what an earlier sync left on Pocket and hands changed
// since, and what Galley and Pocket have of their own.
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';

const root = join(import.meta.dirname, '../..');
const household = JSON.parse(readFileSync(join(root, 'src/lib/state/demo/household.json'), 'utf8'));

function write(home, device, path, bytes) {
  const full = join(home, device, path);
  mkdirSync(dirname(full), { recursive: true });
  writeFileSync(full, bytes);
}

/** A size in four bytes of seven bits (ID3v2.3.0, section 3.1). */
const syncSafe = (size) => Buffer.from([21, 14, 7, 0].map((shift) => (size >>> shift) & 0x7f));

/**
 * An ID3v2.3 tag of text frames in Latin-1.
 * @param {Record<string, string>} texts by their frames
 */
export function tagOf(texts) {
  const frames = Object.entries(texts).map(([id, text]) => {
    const body = Buffer.concat([Buffer.from([0]), Buffer.from(text, 'latin1')]);
    const head = Buffer.alloc(10);
    head.write(id, 'latin1');
    head.writeUInt32BE(body.length, 4);
    return Buffer.concat([head, body]);
  });
  if (frames.length === 0) return Buffer.alloc(0);
  const body = Buffer.concat(frames);
  return Buffer.concat([Buffer.from('ID3\x03\x00\x00', 'latin1'), syncSafe(body.length), body]);
}

/** Another title of the same length, as a phone's own editor would write it. */
function retitled(bytes, [before, after]) {
  const text = bytes.toString('latin1');
  const at = text.indexOf(before);
  if (at < 0 || before.length !== after.length) throw new Error(`no ${before} to be called ${after}`);
  return Buffer.from(text.slice(0, at) + after + text.slice(at + before.length), 'latin1');
}

/**
 * @param {string} home folder of all devices' disks; where it is laid out already it stays as it is
 * @param {boolean} [anew] lays it out all the same
 */
export function layOutDevices(home, anew = false) {
  if (existsSync(join(home, household.player)) && !anew) return;
  for (const { from, path, now } of household.left) {
    if (now === 'removed') continue;
    const bytes = readFileSync(join(root, 'demo', from));
    write(home, household.player, path, now ? retitled(bytes, now.retitled) : bytes);
  }
  for (const [device, files] of Object.entries(household.own))
    for (const { from, path, tags } of files)
      write(home, device, path, Buffer.concat([tagOf(tags), readFileSync(join(root, 'stand-ins', from))]));
}
