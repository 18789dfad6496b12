import type { Board } from '$lib/state/scope.svelte';

/** Stations in the order of the work; a key opens each by its place here. */
export const STATIONS: readonly { readonly board: Board; readonly name: string }[] = [
  { board: 'intake', name: 'Intake' },
  { board: 'identify', name: 'Identify' },
  { board: 'describe', name: 'Describe' },
  { board: 'prepare', name: 'Prepare' },
  { board: 'lists', name: 'Lists' },
  { board: 'players', name: 'Players' },
];
