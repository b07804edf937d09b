import { expect, it } from "vitest";
import { warnings } from "./warnings";

const dwell = (seconds: number) => ({
  since: "2026-03-09T12:00:00Z",
  latest: new Date(Date.parse("2026-03-09T12:00:00Z") + seconds * 1000).toISOString(),
});
const before = (seconds: number) => warnings(dwell(seconds)).map((at) => (Date.parse(dwell(seconds).latest) - at) / 1000);

it("warns two minutes and one minute before product dries", () => {
  expect(before(600)).toEqual([120, 60]);
  expect(before(240)).toEqual([120, 60]);
});

it("warns at half and at three quarters of a short dwell", () => {
  expect(before(100)).toEqual([50, 25]);
  expect(before(20)).toEqual([10, 5]);
});

it("warns in order, within the dwell", () => {
  for (let s = 1; s < 1000; s += 7) {
    const [first, last] = before(s) as [number, number];
    expect(first).toBeGreaterThan(last);
    expect(first).toBeLessThanOrEqual(s);
    expect(last).toBeGreaterThan(0);
  }
});
