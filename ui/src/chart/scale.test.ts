import { describe, expect, it } from "vitest";
import { dayTicks, room, scale, ticks } from "./scale";

describe("scales", () => {
  it("go straight from values to places", () => {
    const y = scale([0, 10], [100, 0]);
    expect([y(0), y(5), y(10)]).toEqual([100, 50, 0]);
    expect(scale([3, 3], [0, 10])(3)).toBe(0);
  });
  it("are marked at round values inside them", () => {
    expect(ticks(0, 100)).toEqual([0, 20, 40, 60, 80, 100]);
    expect(ticks(0.13, 0.31)).toEqual([0.15, 0.2, 0.25, 0.3]);
    expect(ticks(5, 5)).toEqual([5]);
  });
  it("are marked at days, fewer the longer they are", () => {
    const day = 24 * 3600_000;
    expect(dayTicks(0, 3 * day)).toHaveLength(4);
    expect(dayTicks(1, 180 * day).length).toBeLessThanOrEqual(7);
  });
  it("leave room, and begin at nought where it is near", () => {
    expect(room([10, 100])[0]).toBe(0);
    expect(room([95, 105])[0]).toBeLessThan(95);
    expect(room([95, 105])[0]).toBeGreaterThan(90);
    expect(room([7, 7])[1]).toBeGreaterThan(7);
  });
});
