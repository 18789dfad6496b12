import { ascii, concat, u16, u32 } from '../../src/lib/core/bytes';
import { element, numberBytes, numberElement, sizeBytes, textElement } from '../../src/lib/formats/ebml';
import { makeBox } from '../../src/lib/formats/mp4';

/* A film of a picture and three sounds, as large as wanted: a second is 25 pictures, and 43 packets of each sound. */

const PICTURE = 30_000;
const SOUND = 380;
const SOUNDS = [2, 3, 4];

type Write = (bytes: Uint8Array) => void;

/** Packets of one second, track by track, as films lie: pictures and sounds side by side. */
function* packets(): Generator<readonly [track: number, time: number, size: number]> {
  let sound = 0;
  for (let picture = 0; picture < 25; picture++) {
    yield [1, picture * 40, PICTURE];
    for (; sound * 23.2 < (picture + 1) * 40 && sound < 43; sound++)
      for (const track of SOUNDS) yield [track, Math.round(sound * 23.2), SOUND];
  }
}

const SECOND = 25 * PICTURE + 43 * SOUNDS.length * SOUND;

/** Writes a film in Matroska of about so many bytes. */
export function writeMatroskaFilm(bytes: number, write: Write): void {
  const seconds = Math.ceil(bytes / SECOND);
  const track = (id: number, type: number, codec: string) =>
    element(
      0xae,
      numberElement(0xd7, id),
      numberElement(0x73c5, id),
      numberElement(0x83, type),
      textElement(0x86, codec),
    );
  const info = element(0x1549a966, numberElement(0x2ad7b1, 1_000_000), textElement(0x7ba9, 'Ebb'));
  const tracks = element(0x1654ae6b, track(1, 1, 'V_VP9'), ...SOUNDS.map((id) => track(id, 2, 'A_AAC')));
  const clusterOf = (second: number) => {
    const blocks = [...packets()].map(([id, time, size]) => {
      const block = new Uint8Array(4 + size);
      block.set([0x80 | id, time >> 8, time & 0xff, time === 0 ? 0x80 : 0]);
      return element(0xa3, block);
    });
    return element(0x1f43b675, concat([element(0xe7, u32(second * 1000)), ...blocks]));
  };
  const cluster = clusterOf(0);
  write(element(0x1a45dfa3, textElement(0x4282, 'matroska')));
  write(
    concat([
      numberBytes(0x18538067),
      sizeBytes(info.length + tracks.length + seconds * cluster.length, 8),
      info,
      tracks,
    ]),
  );
  for (let second = 0; second < seconds; second++) write(clusterOf(second));
}

/** Writes a film in MP4 of about so many bytes, with what tells of it before its samples. */
export function writeMp4Film(bytes: number, write: Write): void {
  const seconds = Math.ceil(bytes / SECOND);
  const zeros = (count: number) => new Uint8Array(count);
  const words = (values: readonly number[]) => concat(values.map(u32));
  const u64 = (value: number) => concat([u32(Math.floor(value / 2 ** 32)), u32(value % 2 ** 32)]);
  const inSecond = [...packets()];
  const moovOf = (start: number) => {
    const trak = (id: number) => {
      const chunks: number[] = [];
      let at = 0;
      for (const [track, , size] of inSecond) {
        if (track === id) chunks.push(at);
        at += size;
      }
      const offsets = Array.from({ length: seconds }, (_, second) =>
        chunks.map((offset) => u64(start + second * SECOND + offset)),
      ).flat();
      const count = offsets.length;
      const isPicture = id === 1;
      const stbl = makeBox(
        'stbl',
        makeBox('stsd', u32(0), u32(1), makeBox(isPicture ? 'vp09' : 'mp4a', zeros(isPicture ? 78 : 28))),
        makeBox('stts', words([0, 1, count, isPicture ? 40 : 23])),
        makeBox('stsc', words([0, 1, 1, 1, 1])),
        makeBox('stsz', words([0, isPicture ? PICTURE : SOUND, count])),
        makeBox('co64', words([0, count]), ...offsets),
      );
      return makeBox(
        'trak',
        makeBox('tkhd', u32(3), zeros(8), u32(id), zeros(4), u32(seconds * 1000), zeros(60)),
        makeBox(
          'mdia',
          makeBox('mdhd', zeros(12), u32(1000), u32(seconds * 1000), u16(0x55c4), zeros(2)),
          makeBox('hdlr', zeros(8), ascii(isPicture ? 'vide' : 'soun'), zeros(13)),
          makeBox('minf', stbl),
        ),
      );
    };
    return makeBox(
      'moov',
      makeBox('mvhd', zeros(12), u32(1000), u32(seconds * 1000), zeros(80)),
      trak(1),
      ...SOUNDS.map(trak),
    );
  };
  const ftyp = makeBox('ftyp', ascii('isom'), u32(0), ascii('isom'));
  const moov = moovOf(ftyp.length + moovOf(0).length + 16);
  write(concat([ftyp, moov, u32(1), ascii('mdat'), u64(seconds * SECOND + 16)]));
  for (let second = 0; second < seconds; second++) write(new Uint8Array(SECOND));
}
