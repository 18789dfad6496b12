import type { Rulebook } from '../../rulebooks';
import { PathKeys } from '../path-keys';
import type { Step } from '../step';

/**
 * The steps of a run that removes nothing: files to be removed stay, and nothing is written in their place. Steps that
 * were left out are planned again.
 */
export function mildSteps(steps: readonly Step[], rulebook: Rulebook): readonly Step[] {
  const keys = new PathKeys(rulebook);
  const staying = new Set(steps.flatMap((step) => (step.type === 'remove' ? [keys.of(step.path)] : [])));
  if (staying.size === 0) return steps;
  const isBarred = (path: string): boolean => {
    const key = keys.of(path);
    for (let at = key; at !== ''; at = at.slice(0, Math.max(0, at.lastIndexOf('/'))))
      if (staying.has(at)) return true;
    return [...staying].some((one) => one.startsWith(`${key}/`));
  };
  return steps.filter((step) => step.type !== 'remove' && (step.type === 'agree' || !isBarred(step.path)));
}
