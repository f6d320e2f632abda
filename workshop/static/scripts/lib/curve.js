// Points of a map, moved by pointer: what they come to is written into the blank beside the curve, as if it had been typed.
const WIDE = 120, HIGH = 40;

const plain = (raw, scale) => (raw / 10 ** scale).toFixed(scale);

/** Where a point lies, as [reading, number], of a place in the drawing. */
export function reached({x, y}, [left, right, bottom, top]) {
  const share = Math.min(1, Math.max(0, x / WIDE)), level = Math.min(1, Math.max(0, 1 - y / HIGH));
  return [Math.round(left + share * (right - left)), Math.round(bottom + level * (top - bottom))];
}

/** The blank's text with one of its points elsewhere. A point stays between its neighbours; times and dates keep their readings. */
export function written(text, number, [reading, gives], at, scale) {
  const points = text.trim().split(/\s+/);
  const low = number ? at[number - 1] + 1 : -Infinity, high = number + 1 < at.length ? at[number + 1] - 1 : Infinity;
  const [before] = points[number].split("=");
  const numeric = /^-?[0-9.]+$/.test(before);
  points[number] = `${numeric ? plain(Math.min(high, Math.max(low, reading)), scale) : before}=${gives}`;
  return points.join("  ");
}
