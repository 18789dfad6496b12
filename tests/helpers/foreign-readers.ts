import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** Readers that are not ours, where the machine has them. */

export const hasFfmpeg = spawnSync('ffprobe', ['-version']).status === 0;
export const hasMutagen = spawnSync('/usr/bin/python3', ['-c', 'import mutagen']).status === 0;

/** Lends a file with these bytes to `use`, and removes it. */
export function withFile<T>(bytes: Uint8Array, extension: string, use: (path: string) => T): T {
  const folder = mkdtempSync(join(tmpdir(), 'lectorum-'));
  try {
    const path = join(folder, `file.${extension}`);
    writeFileSync(path, bytes);
    return use(path);
  } finally {
    rmSync(folder, { recursive: true });
  }
}

interface Tagged {
  readonly tags?: Record<string, string>;
}

/** Tags as ffprobe tells them, names in lower case. */
export function ffprobeTags(path: string): Record<string, string> {
  const { stdout } = spawnSync(
    'ffprobe',
    ['-v', 'error', '-of', 'json', '-show_entries', 'format_tags:stream_tags', path],
    { encoding: 'utf8' },
  );
  // Those of Ogg belong to its stream.
  const { format, streams = [] } = JSON.parse(stdout) as Tagged & { format: Tagged; streams?: Tagged[] };
  const tags = Object.assign({}, ...[...streams, format].map((one) => one.tags ?? {})) as Record<
    string,
    string
  >;
  return Object.fromEntries(Object.entries(tags).map(([name, value]) => [name.toLowerCase(), value]));
}

/** Names and languages of tracks as ffprobe tells them, in their order. */
export function ffprobeTracks(path: string): [name: string | null, language: string | null][] {
  const { stdout } = spawnSync(
    'ffprobe',
    ['-v', 'error', '-of', 'json', '-show_entries', 'stream_tags=title,language', path],
    { encoding: 'utf8' },
  );
  const { streams } = JSON.parse(stdout) as { streams: Tagged[] };
  return streams.map(({ tags }) => [tags?.title ?? null, tags?.language ?? null]);
}

/** Pictures that go with chapters as ffprobe tells them: from when each is shown, in seconds, and its bytes. */
export function ffprobeStills(path: string): [number, number][] {
  const { stdout } = spawnSync(
    'ffprobe',
    ['-v', 'error', '-of', 'json', '-show_streams', '-show_packets', '-select_streams', 'v', path],
    { encoding: 'utf8' },
  );
  const { streams, packets } = JSON.parse(stdout) as {
    streams: { index: number; disposition: { timed_thumbnails: number } }[];
    packets: { stream_index: number; pts_time: string; size: string }[];
  };
  const stills = streams.find(({ disposition }) => disposition.timed_thumbnails === 1);
  return (
    packets
      .filter(({ stream_index }) => stream_index === stills?.index)
      // It gives out the first one once more, before all others, to stand for the file.
      .slice(1)
      .map(({ pts_time, size }) => [Number(pts_time), Number(size)])
  );
}

/** Chapters as ffprobe tells them: where each begins in seconds, and its title. */
export function ffprobeChapters(path: string): [number, string][] {
  const { stdout } = spawnSync('ffprobe', ['-v', 'error', '-of', 'json', '-show_chapters', path], {
    encoding: 'utf8',
  });
  const { chapters } = JSON.parse(stdout) as {
    chapters: { start_time: string; tags?: { title?: string } }[];
  };
  return chapters.map(({ start_time, tags }) => [Number(start_time), tags?.title ?? '']);
}

/** Digest of the decoded samples of the first sound stream and of the moving picture. */
export function decodedDigest(path: string): string {
  const args = ['-v', 'error', '-i', path, '-map', '0:a:0', '-map', '0:V?', '-f', 'md5', '-'];
  const { stdout, status, stderr } = spawnSync('ffmpeg', args, { encoding: 'utf8' });
  if (status !== 0 || stderr.trim() !== '') throw new Error(`ffmpeg: ${stderr}`);
  return stdout.trim();
}

/** Every tag as mutagen tells it, texts only, and the bytes of each picture. */
export function mutagenTags(path: string): Record<string, string> {
  const script = `
import sys, json, base64, mutagen, mutagen.flac
f = mutagen.File(sys.argv[1])
out = {k: (str(v) if not isinstance(v, list) else '|'.join(map(str, v)))[:300] for k, v in (f.tags or {}).items() if 'APIC' not in k and k != 'covr'}
if hasattr(f, 'pictures'): out['pictures'] = ' '.join(str(len(p.data)) for p in f.pictures)
if 'covr' in (f.tags or {}): out['pictures'] = ' '.join(str(len(p)) for p in f.tags['covr'])
blocks = [mutagen.flac.Picture(base64.b64decode(v)) for v in (f.tags or {}).get('metadata_block_picture', [])]
if blocks: out['pictures'] = ' '.join(str(len(p.data)) for p in blocks)
apic = [v for k, v in (f.tags or {}).items() if k.startswith('APIC')]
if apic: out['pictures'] = ' '.join(str(len(p.data)) for p in apic)
print(json.dumps(out))`;
  const { stdout, stderr } = spawnSync('/usr/bin/python3', ['-c', script, path], { encoding: 'utf8' });
  if (stdout === '') throw new Error(`mutagen: ${stderr}`);
  return JSON.parse(stdout) as Record<string, string>;
}

/** What says of a file what kind it is, as mutagen reads it: items of MP4, frames of ID3v2. */
export function mutagenKind(path: string): Record<string, unknown> {
  const script = `
import json, sys, mutagen
tags = mutagen.File(sys.argv[1]).tags
found = {}
for name in ('stik', 'pcst', 'PCST', 'TDES'):
    if name not in tags: continue
    value = tags[name]
    found[name] = value.value if name == 'PCST' else str(value) if name == 'TDES' else value[0] if isinstance(value, list) else value
if 'stik' in found: found.setdefault('pcst', False)
print(json.dumps(found))`;
  const { stdout, stderr } = spawnSync('/usr/bin/python3', ['-c', script, path], { encoding: 'utf8' });
  if (stdout === '') throw new Error(`mutagen: ${stderr}`);
  return JSON.parse(stdout) as Record<string, unknown>;
}
