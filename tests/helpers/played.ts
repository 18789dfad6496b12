import { createHash } from 'node:crypto';
import { spawnSync } from 'node:child_process';
import { ALL_FORMATS, BufferSource, EncodedPacketSink, Input } from 'mediabunny';

/** What a decoder that is not ours gets of a file: a digest of the packets of each track, in their order. */
export type Played = readonly string[];

/** Packets of each track as mediabunny finds them; nothing where it cannot read the file. */
export async function playedByMediabunny(bytes: Uint8Array): Promise<Played> {
  const input = new Input({ formats: ALL_FORMATS, source: new BufferSource(bytes.slice().buffer) });
  const played: string[] = [];
  // It says on the console what it cannot decode: nothing is decoded here.
  const { warn } = console;
  console.warn = () => undefined;
  try {
    for (const track of await input.getTracks()) {
      // Pictures of chapters are a track of their own, which is laid anew.
      if ((!track.isAudioTrack() && !track.isVideoTrack()) || track.codec === null) continue;
      const hash = createHash('sha256');
      let count = 0;
      try {
        for await (const { data } of new EncodedPacketSink(track).packets()) {
          hash.update(data);
          count++;
        }
      } catch {
        // What came before the damage counts.
      }
      if (count > 0) played.push(`${track.type} ${count} ${hash.digest('hex').slice(0, 16)}`);
    }
  } catch {
    return [];
  } finally {
    console.warn = warn;
    input.dispose();
  }
  return played;
}

/** Packets of each track as ffmpeg finds them, with nothing decoded; nothing where it cannot read the file. */
export function playedByFfmpeg(path: string): Played {
  const args = [
    '-v',
    'quiet',
    '-i',
    path,
    '-map',
    '0:a?',
    '-map',
    '0:V?',
    '-c',
    'copy',
    '-f',
    'framehash',
    '-',
  ];
  const { stdout } = spawnSync('ffmpeg', args, { encoding: 'utf8', maxBuffer: 1 << 28, timeout: 20_000 });
  const tracks = new Map<string, string[]>();
  for (const line of stdout.split('\n')) {
    if (line === '' || line.startsWith('#')) continue;
    const [track = '', , , , , digest = ''] = line.split(',').map((part) => part.trim());
    tracks.set(track, [...(tracks.get(track) ?? []), digest]);
  }
  // Their numbers change where tracks of chapters come or go.
  return [...tracks.values()].map((digests) => {
    const digest = createHash('sha256').update(digests.join()).digest('hex').slice(0, 16);
    return `${digests.length} ${digest}`;
  });
}
