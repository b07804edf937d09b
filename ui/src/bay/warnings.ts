import type { Schemas } from "../api/client";

/** When to warn before product dries, ms: there must be time to fetch the lance and reach the first panel, which takes about a minute. A short dwell is warned of at half and at three quarters. */
export function warnings(d: Pick<Schemas["Dwelling"], "since" | "latest">): [first: number, last: number] {
  const [since, latest] = [Date.parse(d.since), Date.parse(d.latest)];
  const whole = latest - since;
  return [latest - Math.min(120_000, whole / 2), latest - Math.min(60_000, whole / 4)];
}
