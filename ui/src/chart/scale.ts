/** A straight scale from values to places. */
export function scale([a, b]: [number, number], [from, to]: [number, number]) {
  const wide = b - a || 1;
  return (v: number) => from + ((v - a) / wide) * (to - from);
}

/** Round values that lie in a range, about as many as asked for. */
export function ticks(a: number, b: number, about = 5): number[] {
  if (!(b > a)) return [a];
  const rough = (b - a) / about;
  const power = 10 ** Math.floor(Math.log10(rough));
  const step = ([1, 2, 5, 10].find((m) => m * power >= rough) ?? 10) * power;
  const list: number[] = [];
  for (let v = Math.ceil(a / step) * step; v <= b + step / 1e6; v += step) list.push(Number(v.toPrecision(12)));
  return list;
}

/** Days or months that lie in a range, as moments at their beginning. */
export function dayTicks(a: number, b: number, about = 6): number[] {
  const day = 24 * 3600_000;
  const step = [1, 2, 7, 14, 28, 56].find((d) => (b - a) / (d * day) <= about) ?? 91;
  const list: number[] = [];
  for (let t = Math.ceil(a / day) * day; t <= b; t += step * day) list.push(t);
  return list;
}

/** A range with room round it, from nought where it is near. */
export function room(values: number[], part = 0.08): [number, number] {
  const low = Math.min(...values);
  const high = Math.max(...values);
  const pad = (high - low || Math.abs(high) || 1) * part;
  return [low >= 0 && low < (high - low) * 0.6 ? 0 : low - pad, high + pad];
}
