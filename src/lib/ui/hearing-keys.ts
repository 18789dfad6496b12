/** What a key does while an item is played and worked on. Speeds change by one step. */
export type HearingAct =
  | { readonly type: 'toggle' | 'mark' }
  | { readonly type: 'seek'; readonly seconds: number }
  | { readonly type: 'speed'; readonly by: 1 | -1 };

const ACTS: Readonly<Record<string, HearingAct>> = {
  KeyK: { type: 'toggle' },
  KeyM: { type: 'mark' },
  KeyJ: { type: 'seek', seconds: -10 },
  KeyL: { type: 'seek', seconds: 10 },
  Comma: { type: 'seek', seconds: -1 },
  Period: { type: 'seek', seconds: 1 },
  BracketLeft: { type: 'speed', by: -1 },
  BracketRight: { type: 'speed', by: 1 },
};

/**
 * The act of a key: K, J, L, comma, full stop, square brackets and M by themselves; while something is typed, with Alt.
 * Null for other keys, and in dialogs.
 */
export function hearingAct(event: KeyboardEvent): HearingAct | null {
  const target = event.target as HTMLElement;
  if (event.ctrlKey || event.metaKey || event.shiftKey || target.closest('[role=dialog]')) return null;
  if (target.closest('input, select, textarea') && !event.altKey) return null;
  return ACTS[event.code] ?? null;
}
