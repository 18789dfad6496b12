import munkres from 'munkres';

/** Rows and columns up to which the cheapest exchange is worked out exactly; it grows with their cube. */
const MOST_EXACT = 260;

/** A pairing of rows with columns. -1 for none. */
export interface Assignment {
  readonly columnOf: Int32Array;
  /** What the whole pairing would lose without the row's own pair; 0 if it has none. */
  readonly margins: Float64Array;
}

/**
 * The pairing of greatest total benefit. A pair without benefit is no pair: both stay open.
 * @param benefits row by row, `rows * columns` numbers
 */
export function assign(
  benefits: Float64Array,
  rows: number,
  columns: number,
  withMargins = true,
): Assignment {
  const size = Math.max(rows, columns);
  const columnOf = new Int32Array(rows).fill(-1);
  const margins = new Float64Array(rows);
  if (rows === 0 || columns === 0) return { columnOf, margins };
  const at = (row: number, column: number) =>
    row < rows && column < columns ? Math.max(0, benefits[row * columns + column] as number) : 0;
  const costs = Array.from({ length: size }, (_, row) =>
    Array.from({ length: size }, (__, column) => -at(row, column)),
  );
  const taken = new Int32Array(size);
  for (const [row, column] of munkres(costs)) taken[row] = column;
  for (let row = 0; row < rows; row++)
    if (at(row, taken[row] as number) > 0) columnOf[row] = taken[row] as number;
  if (!withMargins) return { columnOf, margins };
  const lost = size <= MOST_EXACT ? cheapestExchange(at, taken, size) : nextBest(at, taken, size);
  for (let row = 0; row < rows; row++)
    if ((columnOf[row] as number) >= 0)
      margins[row] = Math.min(at(row, columnOf[row] as number), lost[row] as number);
  return { columnOf, margins };
}

/**
 * What giving up each row's pair costs at least, by the cheapest round of exchanges through it: rows are
 * places, and going from one to another means taking over its column (Floyd and Warshall's paths).
 */
function cheapestExchange(
  at: (row: number, column: number) => number,
  taken: Int32Array,
  size: number,
): Float64Array {
  const cost = new Float64Array(size * size);
  for (let from = 0; from < size; from++) {
    const own = at(from, taken[from] as number);
    for (let to = 0; to < size; to++) cost[from * size + to] = own - at(from, taken[to] as number);
    cost[from * size + from] = Infinity;
  }
  const first = cost.slice();
  for (let via = 0; via < size; via++)
    for (let from = 0; from < size; from++) {
      const head = cost[from * size + via] as number;
      if (head === Infinity || from === via) continue;
      for (let to = 0; to < size; to++) {
        const way = head + (cost[via * size + to] as number);
        if (way < (cost[from * size + to] as number)) cost[from * size + to] = way;
      }
    }
  const round = new Float64Array(size).fill(Infinity);
  for (let row = 0; row < size; row++)
    for (let other = 0; other < size; other++) {
      if (other === row) continue;
      const way = (first[row * size + other] as number) + (cost[other * size + row] as number);
      if (way < (round[row] as number)) round[row] = Math.max(0, way);
    }
  return round;
}

/** A plainer measure for very long line-ups: the next best in the same row or column. */
function nextBest(
  at: (row: number, column: number) => number,
  taken: Int32Array,
  size: number,
): Float64Array {
  const lost = new Float64Array(size);
  const rowOf = new Int32Array(size);
  for (let row = 0; row < size; row++) rowOf[taken[row] as number] = row;
  for (let row = 0; row < size; row++) {
    const column = taken[row] as number;
    let least = at(row, column);
    for (let other = 0; other < size; other++) {
      if (other !== column) least = Math.min(least, at(row, column) - at(row, other));
      const rival = rowOf[other] as number;
      if (rival !== row) least = Math.min(least, at(row, column) - at(rival, column));
    }
    lost[row] = Math.max(0, least);
  }
  return lost;
}
