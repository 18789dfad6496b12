/** The highest sample rate that is encoded, in hertz: DSD has higher ones, of one bit. */
const MOST_RATE = 192_000;

/**
 * The sample rate that keeps most of the sound: its own, otherwise the highest below it; among those sufficient for
 * hearing, one that divides it evenly. Null if the player and the codec share no rate.
 */
export function rateFor(own: number, rates: readonly number[] | null, highest: number): number | null {
  const usual = rates ?? [
    8000, 11_025, 16_000, 22_050, 32_000, 44_100, 48_000, 88_200, 96_000, 176_400, 192_000,
  ];
  if (own <= Math.min(highest, MOST_RATE) && (rates === null || rates.includes(own))) return own;
  const allowed = usual.filter((rate) => rate <= highest);
  const below = allowed.filter((rate) => rate < own);
  const even = below.findLast((rate) => own % rate === 0 && rate >= 44_100);
  return even ?? below.at(-1) ?? allowed[0] ?? null;
}
