/** A text that a subtitle shows. Seconds, to the millisecond; lines are parted by `\n`. */
export interface Cue {
  readonly startSeconds: number;
  readonly endSeconds: number;
  readonly text: string;
}
