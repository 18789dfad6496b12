/** How much of a channel that is not left or right goes to each of them. */
const SIDE = Math.SQRT1_2;

/**
 * Fewer channels of a sound: one is the mean of all; two are left and right, with what the middle and the back say laid
 * under them, and as loud as before at the most (ITU-R BS.775-3, annex 4; the channel of low sounds is left out). As many
 * or more channels stay as they are.
 */
export function mixDown(samples: readonly Float32Array[], channels: number): readonly Float32Array[] {
  if (channels >= samples.length) return samples;
  const count = samples[0]?.length ?? 0;
  if (channels === 1)
    return [
      mixed(
        samples.map((own) => [own, 1 / samples.length]),
        count,
      ),
    ];
  const [left, right, middle, , backLeft, backRight] = samples;
  const whole = 1 + (middle ? SIDE : 0) + (backLeft ? SIDE : 0);
  return [
    [left, backLeft],
    [right, backRight ?? backLeft],
  ].map(([front, back]) =>
    mixed(
      [
        [front!, 1 / whole],
        ...(middle ? [[middle, SIDE / whole] as const] : []),
        ...(back ? [[back, SIDE / whole] as const] : []),
      ],
      count,
    ),
  );
}

function mixed(parts: readonly (readonly [Float32Array, number])[], count: number): Float32Array {
  const out = new Float32Array(count);
  for (const [own, share] of parts) for (let at = 0; at < count; at++) out[at]! += own[at]! * share;
  return out;
}
