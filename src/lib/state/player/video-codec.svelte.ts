import type { Rulebook } from '$lib/core/rulebooks';
import { plainVideoWishes } from '$lib/core/twins';
import { lacksH264 } from '$lib/io/encoders';

let isWithout = $state(false);
let asked: Promise<void> | null = null;

/** Asks this browser once which video codecs it encodes, before the first plan depends on it. */
export const askEncoders = (): Promise<void> =>
  (asked ??= lacksH264().then((lacks) => {
    isWithout = lacks;
  }));

/** A rulebook without video recipes, adapted to this browser: codecs that it encodes come first. */
export const servedHere = (rulebook: Rulebook): Rulebook =>
  isWithout && !rulebook.videoTwins ? { ...rulebook, videoTwins: plainVideoWishes('webm') } : rulebook;
