import { describe, expect, it } from "vitest";
import { moved, nudged } from "./moves";
import { blankStep, type Procedure, stepsOf } from "./words";

const step = (id: string, round = "") => ({ ...blankStep(id, id), ...(round && { round }) });
const doc = {
  rounds: [{ id: "sides", title: "Side by side", over: "sides", order: "the route", when: {} }],
  stages: [
    { id: "wash", title: "Wash", steps: [step("fill"), step("rinse", "sides"), step("mitt", "sides")] },
    { id: "dry", title: "Dry", steps: [step("towel", "sides"), step("look")] },
  ],
} as unknown as Procedure;
const rounds = (p: Procedure) => stepsOf(p).map((s) => `${s.id}${s.round ? ` in ${s.round}` : ""}`);

describe("moving a step", () => {
  it("joins a round between two of its steps", () => {
    expect(rounds(moved(doc, "fill", { before: "mitt" }))).toEqual([
      "rinse in sides",
      "fill in sides",
      "mitt in sides",
      "towel in sides",
      "look",
    ]);
  });

  it("leaves it away from all of them", () => {
    expect(rounds(moved(doc, "towel", { stage: "dry" }))).toEqual(["fill", "rinse in sides", "mitt in sides", "look", "towel"]);
  });

  it("stays in it at its edge", () => {
    expect(rounds(moved(doc, "mitt", { before: "rinse" }))).toEqual(["fill", "mitt in sides", "rinse in sides", "towel in sides", "look"]);
  });
});

describe("a step one place on", () => {
  const ids = (p: Procedure) => p.stages.map((s) => s.steps.map((x) => x.id).join(" ")).join(" | ");
  it.each([
    ["fill", 1, "rinse fill mitt | towel look"],
    ["rinse", 1, "fill mitt rinse | towel look"],
    ["mitt", 1, "fill rinse | mitt towel look"],
    ["mitt", -1, "fill mitt rinse | towel look"],
    ["towel", -1, "fill rinse mitt towel | look"],
    ["look", 1, "fill rinse mitt | towel look"],
    ["fill", -1, "fill rinse mitt | towel look"],
  ] as const)("%s by %i", (id, by, then) => {
    expect(ids(nudged(doc, id, by))).toBe(then);
  });
});
