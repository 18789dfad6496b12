import { linkHorizontal } from 'd3-shape';

/** A ribbon's two edges and its body, from one bar to another. Pixels. */
export interface Ribbon {
  readonly top: string;
  readonly foot: string;
  readonly body: string;
}

const link = linkHorizontal<{ source: [number, number]; target: [number, number] }, [number, number]>();
const edge = (x0: number, y0: number, x1: number, y1: number): string =>
  link({ source: [x0, y0], target: [x1, y1] }) ?? '';

/** Between the right end of one bar and the left end of another, each given by its middle. */
export function ribbonBetween(x0: number, y0: number, x1: number, y1: number, height: number): Ribbon {
  const half = height / 2;
  const top = edge(x0, y0 - half, x1, y1 - half);
  const foot = edge(x0, y0 + half, x1, y1 + half);
  const back = edge(x1, y1 + half, x0, y0 + half);
  return { top, foot, body: `${top}L${x1},${y1 + half}${back.replace(/^M/, 'L')}Z` };
}
