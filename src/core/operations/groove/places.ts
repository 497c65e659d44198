/** Places from the middle outward, first to one side and then to the other. */
export const fromMiddle = (from: number, to: number, step: number): number[] => {
  const count = Math.max(0, Math.ceil((to - from) / step - 1e-9));
  if (count === 0) return [(from + to) / 2];
  const places = Array.from({ length: count + 1 }, (_, i) => from + ((to - from) * i) / count);
  const middle = (from + to) / 2;
  return places.sort((a, b) => Math.abs(a - middle) - Math.abs(b - middle) || a - b);
};
