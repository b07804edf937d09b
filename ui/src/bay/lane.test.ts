import { describe, expect, it } from "vitest";
import type { Tap } from "../offline/db";
import { fold } from "./fold";
import { laneOf } from "./lane";
import type { WashView } from "./useWash";

const steps = ["foam", "fill", "rinse", "mitt"].map((id) => ({ id, stage: "s", title: id, minutes: 2 }));
const view = { steps } as unknown as WashView;
const t = (kind: Tap["kind"], step: string, by: string, s: number): Tap => ({
  id: `${kind}${step}`,
  kind,
  step,
  by,
  seq: s,
  at: new Date(s * 1000).toISOString(),
});
const rest = (who: Record<string, string | undefined>, order = steps.map((s) => s.id)) =>
  ({
    crew: [
      { id: "o", name: "Osk" },
      { id: "p", name: "Pia" },
    ],
    timeline: { slots: steps.map((s) => ({ step: s.id, who: who[s.id], start: order.indexOf(s.id) * 100 })) },
  }) as unknown as Parameters<typeof laneOf>[3];
const ids = (lane: ReturnType<typeof laneOf>) => [lane.step?.id, ...lane.after.map((s) => s.id)];

describe("a lane in the bay", () => {
  it("is the steps in their order for one who washes alone", () => {
    expect(ids(laneOf("o", view, fold(steps, []), undefined))).toEqual(["foam", "fill", "rinse"]);
    expect(ids(laneOf("o", view, fold(steps, [t("start", "foam", "o", 0)]), undefined))).toEqual(["foam", "fill", "rinse"]);
  });

  it("is each one's own where two wash", () => {
    const plan = rest({ foam: "Osk", fill: "Pia", rinse: "Osk", mitt: "Pia" });
    const state = fold(steps, [t("start", "foam", "o", 0)]);
    expect(ids(laneOf("o", view, state, plan))).toEqual(["foam", "rinse"]);
    expect(ids(laneOf("p", view, state, plan))).toEqual(["fill", "mitt"]);
  });

  it("follows the plan's order, which uses a dwell for other work", () => {
    const all = { foam: "Osk", fill: "Osk", rinse: "Osk", mitt: "Osk" };
    expect(ids(laneOf("o", view, fold(steps, []), rest(all, ["fill", "foam", "rinse", "mitt"])))).toEqual(["fill", "foam", "rinse"]);
  });

  it("has what the plan gives to nobody, as it runs by itself, in everybody's", () => {
    const plan = rest({ foam: undefined, fill: "Pia", rinse: "Osk", mitt: "Pia" });
    expect(ids(laneOf("o", view, fold(steps, []), plan))).toEqual(["foam", "rinse"]);
    expect(ids(laneOf("p", view, fold(steps, []), plan))).toEqual(["foam", "fill", "mitt"]);
  });

  it("goes on with what somebody else has not begun, when one's own is done", () => {
    const plan = rest({ foam: "Osk", fill: "Pia", rinse: "Osk", mitt: "Pia" });
    const done = ["foam", "rinse"].flatMap((id, i) => [t("start", id, "o", i * 10), t("done", id, "o", i * 10 + 5)]);
    expect(ids(laneOf("o", view, fold(steps, [...done, t("start", "fill", "p", 3)]), plan))).toEqual(["mitt"]);
  });

  it("does not offer what somebody else has in hand", () => {
    const state = fold(steps, [t("start", "foam", "o", 0)]);
    expect(ids(laneOf("p", view, state, undefined))).toEqual(["fill", "rinse", "mitt"]);
  });

  it("is empty when everything is done", () => {
    const all = steps.flatMap((s, i) => [t("start", s.id, "o", i * 10), t("done", s.id, "o", i * 10 + 5)]);
    expect(ids(laneOf("o", view, fold(steps, all), undefined))).toEqual([undefined]);
  });
});
