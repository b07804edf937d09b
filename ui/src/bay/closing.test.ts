import { describe, expect, it } from "vitest";
import { closing } from "./closing";
import type { State, WashView } from "./useWash";

const part = (n: number, label: string) => ({
  round: "sides",
  title: "Side by side",
  over: "sides",
  one: "side",
  key: label,
  label,
  n,
  of: 2,
});
const steps = [
  { id: "fill" },
  { id: "rinse@left", part: part(1, "left side") },
  { id: "mitt@left", part: part(1, "left side") },
  { id: "towel@left", part: part(1, "left side") },
  { id: "rinse@right", part: part(2, "right side") },
  { id: "mitt@right", part: part(2, "right side") },
];
const view = { steps, plan: { steps } } as unknown as WashView;
const state = (done: string[]) =>
  ({ steps: steps.map((s) => ({ id: s.id, status: done.includes(s.id) ? "done" : "waiting" })) }) as unknown as State;
const at = (id: string) => view.steps.find((s) => s.id === id);

describe("one tap for the rest of a part", () => {
  it("closes what is open of it, together, and begins the next part", () => {
    expect(closing(view, state(["fill", "rinse@left"]), at("mitt@left"))).toEqual({
      says: "Next side: right side",
      taps: [
        { kind: "done", step: "mitt@left", whole: true },
        { kind: "done", step: "towel@left", whole: true },
        { kind: "start", step: "rinse@right" },
      ],
    });
  });

  it("says that the last part is done", () => {
    expect(closing(view, state([]), at("rinse@right"))?.says).toBe("This side is done");
  });

  it("is not there outside a round, nor for the last step of a part: that is what the big button is for", () => {
    expect(closing(view, state([]), at("fill"))).toBeUndefined();
    expect(closing(view, state(["rinse@left", "mitt@left"]), at("towel@left"))).toBeUndefined();
    expect(closing(view, state([]), undefined)).toBeUndefined();
  });
});
