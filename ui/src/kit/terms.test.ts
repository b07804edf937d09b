import { describe, expect, it } from "vitest";

/** What docs/words.md says is not said on a screen. */
const unsaid = [
  /mar index/i,
  /times in (5|five)/i,
  /something dries/i,
  /you are watching/i,
  /even odds/i,
  /over the bound/i,
  />\s*Keep(ing|s)?\b/,
  /"Keep(ing)? [a-z]/,
  /\bdeactivate/i,
  /\bPIN\b/,
  /\b(mock|dummy)\b/i,
];

const texts = import.meta.glob<string>("../**/*.tsx", { query: "?raw", import: "default", eager: true });

describe("words on the screens", () => {
  it("are looked at", () => expect(Object.keys(texts).length).toBeGreaterThan(50));
  it.each(Object.entries(texts))("%s", (_, text) => {
    const lines = text.split("\n").filter((l) => !/^\s*(\/\/|\*|\/\*)/.test(l));
    expect(lines.filter((l) => unsaid.some((u) => u.test(l)))).toEqual([]);
  });
});
