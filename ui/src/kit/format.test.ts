import { describe, expect, it } from "vitest";
import { clock, minutes, momentOf, plural, quantities, seconds, standIn, typed } from "./format";

describe("times as people say them", () => {
  it.each([
    [0.5, "30 s"],
    [1, "1 min"],
    [2.5, "2.5 min"],
    [59.6, "1 h"],
    [65, "1 h 5 min"],
    [120, "2 h"],
    [Infinity, "no limit"],
  ])("%f min is %s", (m, said) => expect(minutes(m)).toBe(said));
  it.each([
    [45, "45 s"],
    [60, "1 min"],
    [95, "1 min 35 s"],
    [900, "15 min"],
  ])("%i s is %s", (s, said) => expect(seconds(s)).toBe(said));
  it.each([
    [7, "0:07"],
    [247, "4:07"],
    [3753, "1:02:33"],
    [-61, "−1:01"],
  ])("the clock at %i s shows %s", (s, said) => expect(clock(s)).toBe(said));
});

describe("quantities in the shop's units", () => {
  const metric = quantities(false);
  const us = quantities(true);
  it("writes litres from a thousand millilitres", () => {
    expect(metric.volume(24.4)).toBe("24 ml");
    expect(metric.volume(1500)).toBe("1.5 l");
  });
  it("writes US fluid ounces (1 US fl oz = 29.5735295625 ml, NIST Handbook 44, Appendix C)", () =>
    expect(us.volume(29.5735295625)).toBe("1 fl oz"));
  it("writes degrees, areas and speeds", () => {
    expect(us.temp(100)).toBe("212 °F");
    expect(metric.area(1.62)).toBe("1.6 m²");
    expect(us.speed(0.44704)).toBe("1 mph");
  });
});

it("counts in words", () => {
  expect(plural(1, "wash", "washes")).toBe("1 wash");
  expect(plural(2, "unsent tap")).toBe("2 unsent taps");
});

describe("what is typed", () => {
  it.each([
    ["1,5", 1.5],
    [" 1.5 ", 1.5],
    ["12", 12],
    ["", undefined],
    ["  ", undefined],
  ])("%j is %j", (text, number) => expect(typed(text)).toBe(number));
});

// Central European time is an hour ahead of UTC in winter and two in summer; in 2026 clocks go forward on 29 March at two and back on
// 25 October at three (Directive 2000/84/EC: the last Sundays, at one o'clock UTC).
describe("a time of day where the shop stands", () => {
  it.each([
    ["2026-01-14", "09:00", "2026-01-14T08:00:00.000Z"],
    ["2026-07-14", "09:00", "2026-07-14T07:00:00.000Z"],
    ["2026-03-29", "01:30", "2026-03-29T00:30:00.000Z"],
    ["2026-03-29", "03:30", "2026-03-29T01:30:00.000Z"],
    ["2026-10-25", "04:00", "2026-10-25T03:00:00.000Z"],
    ["2026-07-14", "00:30", "2026-07-13T22:30:00.000Z"],
  ])("%s %s", (date, time, moment) => {
    standIn("Europe/Berlin");
    expect(momentOf(date, time).toISOString()).toBe(moment);
  });
});
