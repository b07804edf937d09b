import { describe, expect, it } from "vitest";
import { mittfuls } from "./mittfuls";

const wash = (zone: "roof" | "bonnet" | "lower-left", share: number) => ({ kind: "wash", zone, share }) as const;
const flip = { kind: "flip" } as const;
const rub = { kind: "rub on the guard" } as const;
const load = { kind: "reload" } as const;

describe("the contact plan in mittfuls", () => {
  it("is cut at the rinses", () => {
    const list = mittfuls([
      wash("roof", 0.5),
      flip,
      wash("roof", 1),
      rub,
      load,
      wash("bonnet", 1),
      rub,
      load,
      { kind: "change to the lower mitt" },
      wash("lower-left", 1),
    ]);
    expect(list).toEqual([
      {
        acts: [{ do: "wash", zone: "roof", part: "half" }, { do: "flip" }, { do: "wash", zone: "roof", part: "the rest" }],
        zones: ["roof"],
      },
      { acts: [{ do: "wash", zone: "bonnet", part: "" }], zones: ["bonnet"] },
      { acts: [{ do: "lower mitt" }, { do: "wash", zone: "lower-left", part: "" }], zones: ["lower-left"] },
    ]);
  });

  it("counts a rinse at the end, with nothing after it, as the end", () => {
    expect(mittfuls([wash("roof", 1), rub, load])).toHaveLength(1);
    expect(mittfuls([])).toEqual([]);
  });

  it("says shares as people do, of the whole zone", () => {
    const parts = mittfuls([wash("roof", 0.32), wash("roof", 0.5), wash("roof", 1)])[0]?.acts.map((a) => ("part" in a ? a.part : ""));
    expect(parts).toEqual(["a third", "a third", "the rest"]);
  });
});
