import { readFileSync } from "node:fs";
import { beforeAll, describe, expect, it } from "vitest";
import type { Schemas } from "../api/client";
import type { Tap } from "../offline/db";
import type { In, Out } from "./core";
import cases from "./fold.cases.json";
import { guess, guessLane, guessUndo } from "./guess";

type Story = { steps: Schemas["PlannedStep"][]; events: Tap[]; state: Schemas["State"] };
const stories = cases as unknown as Story[];

interface Started {
  uskelCore: (name: string, json: string) => { out?: string; error?: string };
  uskelReady: () => void;
  Go: new () => { importObject: WebAssembly.Imports; run: (instance: WebAssembly.Instance) => Promise<void> };
}
const world = globalThis as unknown as Started;

/** The core as it is built for devices, run here without a worker. */
beforeAll(async () => {
  // @ts-expect-error -- the Go toolchain ships this script without types; it is copied as it is, and types of our own
  // would only say what Started says above
  await import("./wasm_exec.gen.js");
  const go = new world.Go();
  const core = readFileSync(new URL("./core.gen.wasm", import.meta.url));
  const { instance } = (await WebAssembly.instantiate(core, go.importObject)) as unknown as WebAssembly.WebAssemblyInstantiatedSource;
  await new Promise<void>((ready) => {
    world.uskelReady = ready;
    void go.run(instance);
  });
});

function bay(input: Partial<In<"bay">>): Out<"bay"> {
  const all = { steps: [], events: [], closed: false, me: "a", whose: "a", washer: "a", plan: [], ...input };
  const { out, error } = world.uskelCore("bay", JSON.stringify(all));
  if (out === undefined) throw new Error(error);
  return JSON.parse(out) as Out<"bay">;
}

describe("the core on the device", () => {
  it.each(stories.map((c, i) => [i, c] as const))("says of story %i what the server says", (_, { steps, events, state }) => {
    expect(bay({ steps, events }).state).toEqual(state);
  });

  it("says what is wrong with a call", () => {
    expect(world.uskelCore("tea", "{}").error).toContain("no such call");
    expect(world.uskelCore("bay", "[").error).toContain("bay");
  });
});

describe("the guess until the core has answered", () => {
  const step = (id: string) => ({ id, stage: "s", title: id, minutes: 2 });
  const steps = ["foam", "fill", "rinse"].map(step);
  const tap = (kind: Tap["kind"], of: string, s: number): Tap => ({
    id: `${kind} ${of}`,
    kind,
    step: of,
    by: "a",
    seq: s,
    at: new Date(s * 1000).toISOString(),
  });
  const log = [
    tap("start", "foam", 0),
    tap("pause", "foam", 5),
    tap("resume", "foam", 9),
    tap("done", "foam", 20),
    tap("start", "fill", 20),
    tap("skip", "rinse", 30),
  ];

  it("stands where the core stands for what is begun, done and left out", () => {
    for (let n = 0; n <= log.length; n++) {
      const events = log.slice(0, n);
      const known = bay({ steps, events });
      const guessed = guess(bay({ steps }).state, events);
      const standing = (s: Schemas["State"]) => [s.steps.map((x) => x.status), s.hands, s.next];
      expect(standing(guessed)).toEqual(standing(known.state));
      expect(guessUndo("a", events)).toBe(known.undoes);
      expect(guessLane(bay({ steps }).lane, guessed, "a")).toEqual(known.lane);
    }
  });

  it("takes nothing back that the core has said", () => {
    for (const { events, state } of stories) {
      const over = (s: Schemas["State"]) => s.steps.filter((x) => x.status === "done" || x.status === "skipped").map((x) => x.id);
      const undone = events.some((e) => e.kind === "undo" || e.kind === "replan");
      if (!undone) expect(over(guess(state, events))).toEqual(expect.arrayContaining(over(state)));
    }
    const all = bay({ steps, events: log }).state;
    expect(guess(all, log).steps.map((s) => s.status)).toEqual(all.steps.map((s) => s.status));
  });
});
