// Prints the JavaScript the first page loads, gzipped, and fails above the budget of 180 KB.
import { readFileSync } from "node:fs";
import { gzipSync } from "node:zlib";
const manifest = JSON.parse(readFileSync("dist/.vite/manifest.json", "utf8"));
const seen = new Set();
const walk = (key) => {
  if (seen.has(key)) return 0;
  seen.add(key);
  const chunk = manifest[key];
  return gzipSync(readFileSync(`dist/${chunk.file}`)).length + (chunk.imports ?? []).reduce((sum, next) => sum + walk(next), 0);
};
const bytes = walk("index.html");
console.log(`initial JavaScript ${(bytes / 1000).toFixed(1)} KB gzip (budget 180)`);
if (bytes > 180_000) process.exit(1);
