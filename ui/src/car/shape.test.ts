import { describe, expect, it } from "vitest";
import type { Schemas } from "../api/client";
import cases from "./bodies.cases.json";
import { type Drawing, neighbour, unfold, type Zone } from "./shape";

interface Case {
  body: Schemas["Body"];
  profile: Schemas["Profile"];
  zones: Zone[];
}

const bodies = (cases as Case[]).map((c) => [c.body, c, unfold(c.body, c.profile)] as const);
const ways = [
  [1, 0],
  [-1, 0],
  [0, 1],
  [0, -1],
] as const;

/** Zones that the arrow keys come to from one. */
function reached(drawing: Drawing, from: Zone): Set<Zone> {
  const seen = new Set([from]);
  for (const zone of seen) for (const [dx, dy] of ways) seen.add(neighbour(drawing.shapes, zone, dx, dy)); // a set grows while it is walked
  return seen;
}

/** Every number pair of a path that stands for a place: those of absolute commands with plain pairs. */
const places = (path: string) =>
  [...path.matchAll(/[MLCQ]([^a-zA-Z]+)/g)].flatMap(([, numbers = ""]) => {
    const n = numbers.trim().split(/[\s,]+/).map(Number); // prettier-ignore
    return n.flatMap((x, i) => (i % 2 ? [] : [[x, n[i + 1] ?? NaN] as const]));
  });

describe.each(bodies)("a %s unfolded", (_, { zones }, drawing) => {
  it("shows every zone of the body once", () => {
    expect(drawing.shapes.map((s) => s.zone).sort()).toEqual([...zones].sort());
  });

  it("lies within its frame, marks and outlines", () => {
    for (const { zone, at, path } of drawing.shapes) {
      for (const [x, y] of [at, ...places(path)]) {
        expect(x, zone).toBeGreaterThan(-8);
        expect(x, zone).toBeLessThan(drawing.width + 8);
        expect(y, zone).toBeGreaterThan(-8);
        expect(y, zone).toBeLessThan(drawing.height + 8);
      }
    }
  });

  it("is drawn with numbers only", () => {
    for (const path of [...drawing.shapes.map((s) => s.path), ...drawing.lines, ...drawing.rails])
      expect(path).not.toMatch(/NaN|undefined|Infinity/);
  });

  it("has its two sides alike, mirrored on the middle", () => {
    const at = (zone: Zone) => drawing.shapes.find((s) => s.zone === zone)?.at ?? ([NaN, NaN] as const);
    for (const [left, right] of [
      ["upper-left", "upper-right"],
      ["lower-left", "lower-right"],
      ["wheel-fl", "wheel-fr"],
      ["tyre-rl", "tyre-rr"],
    ] as const) {
      expect(at(left)[0]).toBeCloseTo(at(right)[0], 6);
      expect(at(left)[1] + at(right)[1]).toBeCloseTo(drawing.height, 6);
    }
  });

  it("keeps marks far enough apart to be told from each other", () => {
    const { shapes } = drawing;
    for (const a of shapes)
      for (const b of shapes)
        if (a.zone < b.zone) expect(Math.hypot(a.at[0] - b.at[0], a.at[1] - b.at[1]), `${a.zone}, ${b.zone}`).toBeGreaterThan(8);
  });

  it.each(["bonnet", "roof", "wheel-rr", "shuts", "tips"] as Zone[])("is walked all over by the arrow keys from the %s", (from) => {
    expect([...reached(drawing, from)].sort()).toEqual([...zones].sort());
  });
});

describe("an arrow key", () => {
  const [, , hatch] = bodies[0] ?? [];
  it("goes the way it points, or stays", () => {
    for (const { zone, at } of hatch?.shapes ?? [])
      for (const [dx, dy] of ways) {
        const to = hatch?.shapes.find((s) => s.zone === neighbour(hatch.shapes, zone, dx, dy));
        const along = ((to?.at[0] ?? 0) - at[0]) * dx + ((to?.at[1] ?? 0) - at[1]) * dy;
        expect(to?.zone === zone || along > 0, `${zone} ${dx} ${dy}`).toBe(true);
      }
  });
  it("begins somewhere when nothing is chosen", () => {
    expect(neighbour(hatch?.shapes ?? [], "nowhere" as Zone, 1, 0)).toBe(hatch?.shapes[0]?.zone);
  });
});
