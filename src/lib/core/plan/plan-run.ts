import { LivePlan } from './live-plan';
import type { Plan, PlanInput } from './plan';

/**
 * Makes the run sheet that brings a player up to date, and what the player would then show. Nothing is written. Takes
 * linear time in items and files.
 */
export function planRun({ items, rulebook, there, token, lists = [], ...agreed }: PlanInput): Plan {
  const live = new LivePlan(rulebook);
  live.see(there, agreed);
  live.know(lists);
  live.change(items, []);
  return live.whole(token);
}
