/** What a key does while an item is played and worked on. Speeds change by one step. */
export type HearingAct =
  | { readonly type: 'toggle' | 'mark' }
  | { readonly type: 'seek'; readonly seconds: number }
  | { readonly type: 'speed'; readonly by: 1 | -1 };

const ACTS: Readonly<Record<string, HearingAct>> = {
  k: { type: 'toggle' },
  m: { type: 'mark' },
  j: { type: 'seek', seconds: -10 },
  l: { type: 'seek', seconds: 10 },
  ',': { type: 'seek', seconds: -1 },
  '.': { type: 'seek', seconds: 1 },
  '[': { type: 'speed', by: -1 },
  ']': { type: 'speed', by: 1 },
};
/** With Alt, some systems type another letter: the key is then told by its place. */
const PLACES: Readonly<Record<string, string>> = {
  KeyK: 'k',
  KeyM: 'm',
  KeyJ: 'j',
  KeyL: 'l',
  Comma: ',',
  Period: '.',
  BracketLeft: '[',
  BracketRight: ']',
};

/**
 * The act of a key: K, J, L, comma, full stop, square brackets and M by themselves; while something is typed, with Alt.
 * Null for other keys, and in dialogs.
 */
export function hearingAct(event: KeyboardEvent): HearingAct | null {
  const target = event.target as HTMLElement;
  if (event.ctrlKey || event.metaKey || event.shiftKey || target.closest('[role=dialog]')) return null;
  if (target.closest('input, select, textarea') && !event.altKey) return null;
  const typed = ACTS[event.key.toLowerCase()];
  return typed ?? (event.altKey ? ACTS[PLACES[event.code] ?? ''] : undefined) ?? null;
}
