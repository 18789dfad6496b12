import type { PlayerDesk } from '$lib/state/player/desk.svelte';
import { hasToDo } from '$lib/state/player/rehearsal.svelte';
import { bytes, counted } from '$lib/ui/words/amounts';

/** How a player stands, in a word with a mark of its own, and what that means. */
export interface Standing {
  readonly word: 'away' | 'running' | 'rehearsing' | 'full' | 'ready' | 'behind' | 'current';
  readonly detail: string;
}

export function standingOf(desk: PlayerDesk): Standing {
  const { plan } = desk.rehearsal;
  const { progress } = desk.runs;
  if (desk.runs.isRunning)
    return {
      word: 'running',
      detail: progress
        ? `${progress.done.toLocaleString('en')} of ${progress.total.toLocaleString('en')}`
        : '',
    };
  if (!plan) return { word: 'rehearsing', detail: desk.trouble ?? '' };
  if (desk.trouble) return { word: 'away', detail: toDo(desk) };
  if (desk.record.isUnfinished) return { word: 'behind', detail: 'a run is unfinished' };
  if (hasToDo(plan)) return { word: 'ready', detail: toDo(desk) };
  const open = plan.held - plan.heldBy.room;
  if (open > 0) return { word: 'behind', detail: `${counted(open, 'item')} not copied` };
  // Whoever chose what comes first has a player that is full by design.
  if (plan.room.missing > 0) return { word: 'full', detail: `${bytes(plan.room.missing)} do not fit` };
  return { word: 'current', detail: plan.current > 0 ? 'as planned' : 'nothing planned' };
}

/** What a run adds and removes, and what comes from there. */
function toDo({ rehearsal: { plan } }: PlayerDesk): string {
  if (!plan) return '';
  const { copy, remove, move } = plan.steps;
  const words = [
    copy > 0 ? `${copy.toLocaleString('en')} to add` : '',
    remove > 0 ? `${remove.toLocaleString('en')} to remove` : '',
    move > 0 ? `${move.toLocaleString('en')} to move` : '',
    plan.comes.files > 0 ? `${plan.comes.files.toLocaleString('en')} to take in` : '',
  ].filter(Boolean);
  return words.slice(0, 2).join(', ') || counted(plan.stepCount, 'step');
}
