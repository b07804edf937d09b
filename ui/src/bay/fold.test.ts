import { describe, expect, it } from "vitest";
import cases from "./fold.cases.json";
import type { Tap } from "../offline/db";
import { fold, lastOf, type State } from "./fold";

/** Both write the same moments, the server with more figures. */
const plain = (state: unknown): unknown =>
  JSON.parse(JSON.stringify(state), (_, v: unknown) =>
    typeof v === "string" && /^\d{4}-\d\d-\d\dT/.test(v) ? new Date(v).toISOString() : v,
  );

describe("the fold on the device", () => {
  it.each(cases.map((c, i) => [i, c] as const))("says of story %i what the server says", (_, c) => {
    const given = c as unknown as { steps: Parameters<typeof fold>[0]; events: Tap[]; state: State };
    expect(plain(fold(given.steps, given.events))).toEqual(plain(given.state));
  });

  it("does not care for order or repeats", () => {
    for (const c of cases as unknown as { steps: Parameters<typeof fold>[0]; events: Tap[] }[]) {
      const turned = [...c.events].reverse();
      expect(fold(c.steps, [...turned, ...c.events])).toEqual(fold(c.steps, c.events));
    }
  });
});

describe("undo", () => {
  const t = (id: string, by: string, s: number, more: Partial<Tap> = {}): Tap => ({
    id,
    kind: "start",
    at: new Date(1000 * s).toISOString(),
    seq: s,
    by,
    ...more,
  });
  it("takes back one's own newest tap, not somebody else's", () => {
    const log = [t("1", "osk", 1), t("2", "osk", 2), t("3", "pia", 3)];
    expect(lastOf("osk", log)).toBe("2");
    expect(lastOf("pia", log)).toBe("3");
    expect(lastOf("ines", log)).toBeUndefined();
  });
  it("goes on to the one before when one was taken back", () => {
    const log = [t("1", "osk", 1), t("2", "osk", 2), t("u", "osk", 3, { kind: "undo", undoes: "2" })];
    expect(lastOf("osk", log)).toBe("1");
  });
});
