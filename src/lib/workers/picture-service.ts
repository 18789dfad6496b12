import { ALL_FORMATS, BlobSource, Input, VideoSampleSink } from 'mediabunny';
import { PictureError, makePicture } from '$lib/io/pictures';
import type { Frame, PictureRequest } from './picture-protocol';
import { serveAnswers, type Port } from './worker-client';

/** Draws pictures for whoever asks through a port. */
export function servePictures(port: Port): void {
  serveAnswers<PictureRequest>(port, (request) =>
    request.type === 'make'
      ? makePicture(request.blob, request.order)
      : frameAt(request.file, request.seconds),
  );
}

/** @throws {Error} naming the codec when the browser cannot decode it */
async function frameAt(file: Blob, seconds: number): Promise<Frame> {
  const input = new Input({ source: new BlobSource(file), formats: ALL_FORMATS });
  try {
    const track = (await input.canRead()) ? await input.getPrimaryVideoTrack() : null;
    if (!track) throw new PictureError('there is no moving picture in it');
    if (!(await track.canDecode()))
      throw new PictureError(`the browser cannot decode ${track.codec ?? 'its codec'}`);
    const first = await track.getFirstTimestamp();
    const sample = await new VideoSampleSink(track).getSample(Math.max(first, seconds));
    if (!sample) throw new PictureError('no frame is shown then');
    const { displayWidth: width, displayHeight: height, timestamp, duration } = sample;
    const canvas = new OffscreenCanvas(width, height);
    const pen = canvas.getContext('2d');
    if (!pen) throw new PictureError('the browser gave no room to draw in');
    sample.draw(pen, 0, 0, width, height);
    sample.close();
    const blob = await canvas.convertToBlob({ type: 'image/png' });
    return { blob, width, height, startSeconds: timestamp, durationSeconds: duration };
  } finally {
    input.dispose();
  }
}
