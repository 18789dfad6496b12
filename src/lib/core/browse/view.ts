import type { Level, Scope } from './rows';

export type ViewId = string & { readonly __brand: 'ViewId' };

/** What is looked at and how it is grouped, kept under a name. */
export interface SavedView {
  readonly id: ViewId;
  readonly name: string;
  readonly scope: Scope;
  /** Outermost first. */
  readonly levels: readonly Level[];
}

export const sameView = (view: SavedView, { kind, text }: Scope, levels: readonly Level[]): boolean =>
  view.scope.kind === kind &&
  view.scope.text.trim() === text.trim() &&
  String(view.levels) === String(levels);
