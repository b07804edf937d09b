import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { describe, expect, it } from "vitest";

/** What docs/words.md says is not said on a screen. */
const unsaid = [
  /mar index/i,
  /times in 5/i,
  /even odds/i,
  /over the bound/i,
  />\s*Keep(ing|s)?\b/,
  /"Keep(ing)? [a-z]/,
  /\bdeactivate/i,
  /\bPIN\b/,
  /\b(mock|dummy)\b/i,
];

function texts(dir: string): string[] {
  return readdirSync(dir, { withFileTypes: true }).flatMap((f) =>
    f.isDirectory() ? texts(join(dir, f.name)) : f.name.endsWith(".tsx") ? [join(dir, f.name)] : [],
  );
}

describe("words on the screens", () => {
  it.each(texts(join(__dirname, "..")))("%s", (file) => {
    const lines = readFileSync(file, "utf8").split("\n");
    const said = lines.filter((l) => !/^\s*(\/\/|\*|\/\*)/.test(l) && unsaid.some((u) => u.test(l)));
    expect(said).toEqual([]);
  });
});
