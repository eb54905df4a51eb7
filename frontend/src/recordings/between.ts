/** The value at a place on a line through points; `xs` does not fall. */
export function between(xs: readonly number[], ys: readonly number[], at: number): number {
  const last = xs.length - 1;
  if (last < 0) return at;
  let low = 0;
  let high = last;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((xs[middle] ?? 0) < at) low = middle + 1;
    else high = middle;
  }
  const [x1, y1] = [xs[low] ?? 0, ys[low] ?? 0];
  if (low === 0 || at >= x1) return y1;
  const [x0, y0] = [xs[low - 1] ?? 0, ys[low - 1] ?? 0];
  return x1 === x0 ? y1 : y0 + ((at - x0) / (x1 - x0)) * (y1 - y0);
}
