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

/** To keep off an edge is the trade's own word: only a button must not say it for saving. */
const anywhere = unsaid.filter((u) => !u.source.includes("Keep"));

/** What the server says comes from the core and the API: their strings, without comments and the API's own documentation. */
const said = Object.fromEntries(
  Object.entries(import.meta.glob<string>("../../../{core,api}/**/*.go", { query: "?raw", import: "default", eager: true })).filter(
    ([path]) => !path.endsWith("_test.go"),
  ),
);
const bare = (line: string) => line.replace(/\b(doc|json|example):"[^"]*"/g, "").replace(/\/\/.*$/, "");

describe("words of the server", () => {
  it("are looked at", () => expect(Object.keys(said).length).toBeGreaterThan(100));
  it.each(Object.entries(said))("%s", (_, text) => {
    const lines = text
      .split("\n")
      .map(bare)
      .filter((l) => l.includes('"'));
    expect(lines.filter((l) => anywhere.some((u) => u.test(l)))).toEqual([]);
  });
});

describe("words on the screens", () => {
  it("are looked at", () => expect(Object.keys(texts).length).toBeGreaterThan(50));
  it.each(Object.entries(texts))("%s", (_, text) => {
    const lines = text.split("\n").filter((l) => !/^\s*(\/\/|\*|\/\*)/.test(l));
    expect(lines.filter((l) => unsaid.some((u) => u.test(l)))).toEqual([]);
  });
});
