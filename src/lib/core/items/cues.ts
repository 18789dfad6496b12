/** A text of a subtitle track. Seconds, to the millisecond; lines are separated by `\n`. */
export interface Cue {
  readonly startSeconds: number;
  readonly endSeconds: number;
  readonly text: string;
}
