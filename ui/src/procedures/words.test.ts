import { describe, expect, it } from "vitest";
import { blankStep, doseWords, freeId, handsOn, particulars, type Procedure, type Step, stepsOf } from "./words";

const time = { fixed: 0, body: 0, perWheel: 0, soiled: false };
const dose = {
  class: "shampoo",
  ratio: { product: 1, water: 9 },
  reading: "water first",
  fill: 1000,
  byWater: false,
  vessel: "foam sprayer",
} as NonNullable<Step["dose"]>;
const procedure = (...ids: string[]) => ({ stages: [{ title: "Wash", steps: ids.slice(0, 1).map((id) => blankStep(id, id)) }, { title: "Dry", steps: ids.slice(1).map((id) => blankStep(id, id)) }] }) as unknown as Procedure; // prettier-ignore

describe("a step in words", () => {
  it.each([
    [time, "no time yet"],
    [{ ...time, fixed: 2 }, "2 min fixed"],
    [{ ...time, body: 6, perWheel: 0.5 }, "6 min on a mid-size car and 30 s a wheel"],
    [{ ...time, fixed: 1, soiled: true }, "1 min fixed, more with soil"],
  ])("takes its time: %o", (t, said) => expect(handsOn(t)).toBe(said));

  it.each([
    ["water first", "9:1 water first"],
    ["one part in", "1 in 10"],
    ["parts of each", "1 + 9 parts"],
  ])("reads its dose as the label prints it: %s", (reading, said) => {
    expect(doseWords({ ...dose, reading } as typeof dose)).toBe(`shampoo, ${said}, 1000 ml in the foam sprayer`);
  });

  it("tells water measured from product measured", () => {
    expect(doseWords({ ...dose, byWater: true })).toContain("1000 ml of water in the foam sprayer");
  });

  it("has its particulars in one line, and only those it has", () => {
    expect(particulars(blankStep("lay", "Lay out"))).toBe("1 min fixed");
    const full = {
      ...blankStep("foam", "Foam"),
      dose,
      dwell: { min: 240, max: 600, each: true },
      cloth: "microfibre",
      colour: "blue",
      tool: "sprayer",
      skill: "foam",
    } as unknown as Step;
    expect(particulars(full)).toBe(
      "shampoo, 9:1 water first, 1000 ml in the foam sprayer · works 4 min to 10 min on each · 1 min fixed · microfibre (blue) · sprayer · skill: foam",
    );
    expect(particulars({ ...blankStep("tar", "Tar"), class: "Tar remover" } as unknown as Step)).toBe("Tar remover · 1 min fixed");
  });
});

describe("a short name for a new step", () => {
  it.each([
    ["Rinse it off!", "rinse-it-off"],
    ["  Wheels & tyres ", "wheels-tyres"],
    ["***", "step"],
    ["A very long title that would not end if nobody ended it here", "a-very-long-title-that-would-not-end-if"],
  ])("%s becomes %s", (title, id) => expect(freeId(procedure("foam"), title).replace(/-$/, "")).toBe(id));

  it("is no other step's, in whatever stage", () => {
    const p = procedure("foam", "rinse", "rinse-2");
    expect(stepsOf(p).map((s) => s.id)).toEqual(["foam", "rinse", "rinse-2"]);
    expect(freeId(p, "Rinse")).toBe("rinse-3");
    expect(freeId(p, "Foam")).toBe("foam-2");
    expect(freeId(p, "Dry")).toBe("dry");
  });
});
