/** Work surfaces that stand in for the arrivals. What they need loads with them. */
export const PANELS = {
  disc: () => import('./DiscPanel.svelte'),
  feeds: () => import('./FeedPanel.svelte'),
  shelf: () => import('./ShelfPanel.svelte'),
  watched: () => import('./WatchPanel.svelte'),
  names: () => import('../frame/NamesPanel.svelte'),
  check: () => import('./CheckPanel.svelte'),
} as const;

export type PanelName = keyof typeof PANELS;
