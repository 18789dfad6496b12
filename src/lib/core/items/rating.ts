/** Points of half a star: ratings are stored from 1 to 100, and five stars are 100. */
const POINTS = 10;

/** Half stars of a rating, 0 to 10. Any rating above 0 has at least one. */
export const halfStars = (rating: number | null): number =>
  rating === null || rating <= 0 ? 0 : Math.max(1, Math.min(10, Math.round(rating / POINTS)));

/** The rating of so many half stars; null for none. */
export const ratingOfHalves = (halves: number): number | null => (halves === 0 ? null : halves * POINTS);
