// Pictures of the sea, drawn pixel by pixel, as binary PPM.

const rgb = (hex) => [1, 3, 5].map((at) => parseInt(hex.slice(at, at + 2), 16));

/** Whether a point (0 to 1 both ways) belongs to the picture's mark. */
const MARKS = {
  horizon: (x, y) => Math.abs(y - 0.62) < 0.004 || (Math.abs(x - 0.3) < 0.006 && y > 0.42 && y < 0.62),
  waves: (x, y) => y > 0.55 && Math.abs(((y * 14 + 0.35 * Math.sin(x * 22)) % 1) - 0.5) < 0.07,
  window: (x, y) => x > 0.3 && x < 0.7 && y > 0.3 && y < 0.7 && (Math.abs(x - 0.5) < 0.012 || Math.abs(y - 0.5) < 0.012),
  lamp: (x, y) => Math.abs(x - 0.5) < 0.03 + 0.08 * Math.max(0, y - 0.5) && y > 0.36,
};

/** A sky, a sea, a sun and one mark. */
export function drawPicture(width, height, { sky, sea, sun, mark }) {
  const [skyRgb, seaRgb, sunRgb] = [sky, sea, sun].map(rgb);
  const header = Buffer.from(`P6\n${width} ${height}\n255\n`);
  const pixels = Buffer.alloc(width * height * 3);
  const ratio = width / height;
  for (let row = 0; row < height; row++) {
    for (let column = 0; column < width; column++) {
      const x = column / width;
      const y = row / height;
      const inSun = Math.hypot((x - 0.68) * ratio, y - 0.34) < 0.12;
      const base = inSun ? sunRgb : y > 0.62 ? seaRgb : skyRgb;
      const colour = MARKS[mark](x, y) ? sunRgb : base;
      const shade = 1 - 0.18 * y;
      colour.forEach((value, channel) => (pixels[(row * width + column) * 3 + channel] = Math.round(value * shade)));
    }
  }
  return Buffer.concat([header, pixels]);
}
