import type { VideoRecipe } from '$lib/core/twins';
import type { FileSink } from '$lib/formats/file-sink';
import { createScratch } from '$lib/io/scratch';
import { fetchVideo } from '$lib/io/server-converter';
import { wholeFile } from '$lib/io/whole-file';
import { NoDecoderError } from './sound-source';
import { NoEncoderError } from './sound-writer';
import { convertVideo, type SeenVideo } from './video';

/** What was converted, and the file whose pictures the result is to be held against. */
export interface ConvertedVideo {
  readonly seen: SeenVideo;
  readonly shown: Blob;
}

/**
 * Converts a video here, or what nothing here decodes or encodes of it on the server: what comes from there is brought into
 * its container, and gets its sound, here.
 * @throws {NoDecoderError} and {NoEncoderError} saying what neither of them takes, and what to install
 */
export async function convertAnyVideo(
  file: Blob,
  recipe: VideoRecipe,
  sink: FileSink,
  tell: (seconds: number) => void,
): Promise<ConvertedVideo> {
  try {
    return { seen: await convertVideo(file, recipe, sink, tell), shown: file };
  } catch (error) {
    if (!(error instanceof NoDecoderError || error instanceof NoEncoderError)) throw error;
    const passing = await onServer(file, recipe, tell, error);
    const seen = await convertVideo(passing, { ...recipe, picture: null }, sink, () => {});
    return { seen, shown: passing };
  }
}

async function onServer(
  file: Blob,
  { picture, sound }: VideoRecipe,
  tell: (seconds: number) => void,
  why: NoDecoderError | NoEncoderError,
): Promise<File> {
  try {
    const { file: made } = await wholeFile(await createScratch(), async (writeAt) => {
      let at = 0;
      const write = (bytes: Uint8Array<ArrayBuffer>) => {
        writeAt(bytes, at);
        at += bytes.length;
      };
      await fetchVideo(file, { picture, keepsSounds: sound === null }, write, tell);
    });
    return made;
  } catch (error) {
    if (error instanceof DOMException) throw error;
    const detail = error instanceof Error ? error.message : String(error);
    const all = `${why.message}, and on the server ${detail}`;
    throw why instanceof NoEncoderError ? new NoEncoderError(all) : new NoDecoderError(all);
  }
}
