import { beforeEach, describe, expect, it } from "vitest";
import { DeviceClock, setRight } from "./clock";

let wall = 0;
let mono = 0;
let truth = 0;
const server = () => mono + truth; // running time and a distance
const clocks = { wall: () => wall, mono: () => mono };

/** Time goes by, for the device's clock and its running time alike. */
const pass = (ms: number) => {
  wall += ms;
  mono += ms;
};

/** An answer that took so long there and so long back. */
const answer = (clock: DeviceClock, there: number, back: number) => {
  const asked = mono;
  pass(there);
  const said = server();
  pass(back);
  clock.learn(said, asked, mono);
};

beforeEach(() => {
  wall = 9_000_000; // the device is wrong
  mono = 1_000;
  truth = 5_000_000;
});

describe("the server's clock on a device", () => {
  it("is the device's own until something is known", () => {
    expect(new DeviceClock(clocks, "a").now()).toBe(wall);
  });

  it("is learned from an answer to within half its way", () => {
    const clock = new DeviceClock(clocks, "a");
    answer(clock, 30, 50);
    expect(Math.abs(clock.now() - server())).toBeLessThanOrEqual(10);
    expect(clock.sure).toBe(true);
  });

  it("trusts the quickest answer, until it is old", () => {
    const clock = new DeviceClock(clocks, "a");
    answer(clock, 10, 10);
    answer(clock, 2000, 0);
    expect(clock.now()).toBe(server());
    pass(11 * 60_000);
    answer(clock, 200, 0);
    expect(clock.now() - server()).toBe(100);
  });

  it("follows a server whose clock was set, at the next answer", () => {
    const clock = new DeviceClock(clocks, "a");
    answer(clock, 5, 5);
    truth += 70_000;
    answer(clock, 20, 20);
    expect(clock.now()).toBe(server());
  });

  it("does not follow a clock that is set back", () => {
    const clock = new DeviceClock(clocks, "a");
    answer(clock, 5, 5);
    wall -= 3_600_000;
    pass(250);
    expect(clock.now()).toBe(server());
    expect(clock.sure).toBe(true);
  });

  it("takes a jump forward for sleep, and is not sure of it", () => {
    const clock = new DeviceClock(clocks, "a");
    answer(clock, 5, 5);
    const before = clock.now();
    const stretch = clock.stretch;
    wall += 60_000; // asleep: running time stood still
    expect(clock.now()).toBe(before + 60_000);
    expect(clock.sure).toBe(false);
    expect(clock.stretch).not.toBe(stretch);
  });

  it("remembers what it knew in its last life", () => {
    const clock = new DeviceClock(clocks, "b");
    clock.remember(-4_000_000);
    expect(clock.now()).toBe(wall - 4_000_000);
    answer(clock, 5, 5);
    clock.remember(1);
    expect(clock.now()).toBe(server());
  });
});

describe("taps that waited", () => {
  const made = (clock: DeviceClock, seq: number) => ({
    at: new Date(clock.now()).toISOString(),
    seq,
    wall,
    mono,
    stretch: clock.stretch,
    sure: clock.sure,
  });

  it("are set right to the millisecond when made in this stretch", () => {
    const clock = new DeviceClock(clocks, "a");
    const when = server();
    const tap = made(clock, 0);
    pass(90_000);
    expect(setRight([tap], clock)[0]).toEqual(tap); // nothing is known yet
    answer(clock, 5, 5);
    expect(Date.parse(setRight([tap], clock)[0]?.at ?? "")).toBe(when);
  });

  it("are set right by the device's clock when made before a reload", () => {
    const first = new DeviceClock(clocks, "a");
    const when = server();
    const tap = made(first, 0);
    pass(3 * 24 * 3600_000);
    const second = new DeviceClock(clocks, "b");
    answer(second, 5, 5);
    expect(Date.parse(setRight([tap], second)[0]?.at ?? "")).toBe(when);
  });

  it("keep their order and lie in the past, whatever the device's clock did between", () => {
    const first = new DeviceClock(clocks, "a");
    const taps = [made(first, 0)];
    wall -= 50 * 24 * 3600_000; // a flat battery: the clock begins anew
    const second = new DeviceClock(clocks, "b");
    pass(60_000);
    taps.push(made(second, 1));
    wall += 90 * 24 * 3600_000; // and is set
    const third = new DeviceClock(clocks, "c");
    answer(third, 5, 5);
    const times = setRight(taps, third).map((t) => Date.parse(t.at));
    expect(times[1]).toBeGreaterThanOrEqual(times[0] ?? Infinity);
    expect(Math.max(...times)).toBeLessThanOrEqual(third.now());
  });

  it("are never in the future, though the device's clock was ahead and has been set", () => {
    const first = new DeviceClock(clocks, "a");
    wall += 2 * 3600_000;
    const tap = made(first, 0);
    wall -= 2 * 3600_000;
    pass(60_000);
    const second = new DeviceClock(clocks, "b");
    answer(second, 5, 5);
    expect(Date.parse(setRight([tap], second)[0]?.at ?? "")).toBe(second.now());
  });

  it("stay as they are when they were sure", () => {
    const clock = new DeviceClock(clocks, "a");
    answer(clock, 5, 5);
    const tap = made(clock, 0);
    pass(60_000);
    answer(clock, 1, 0);
    expect(setRight([tap], clock)[0]?.at).toBe(tap.at);
  });
});
