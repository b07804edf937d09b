import type { Schemas } from "../api/client";
import type { Tap } from "../offline/db";

type State = Schemas["State"];
type StepState = State["steps"][number];

/** How a wash stands until the core on this device has answered: taps since then, by the simplest rule. A step that was
 *  begun runs, one that was ended is done; times, dwells and all else wait for the core, some milliseconds, or as long as
 *  it takes to start. */
export function guess(state: State, events: readonly Tap[]): State {
  const steps = new Map(state.steps.map((s) => [s.id, { ...s }]));
  let finished = state.finished;
  for (const e of standing(events)) {
    if (e.kind === "finish") finished = e.at;
    const s = steps.get(e.step ?? "");
    if (s) tapped(s, e);
  }
  const list = [...steps.values()];
  const next = list.find((s) => s.status === "waiting")?.id;
  const kept = { ...state };
  delete kept.next; // what is next is said anew
  return { ...kept, steps: list, hands: hands(list), ...(finished && { finished }), ...(next && { next }) };
}

/** Taps that nobody took back, in the order of their moments. */
function standing(events: readonly Tap[]): Tap[] {
  const undone = new Set(events.flatMap((e) => (e.kind === "undo" && e.undoes ? [e.undoes] : [])));
  const left = events.filter((e) => e.kind !== "undo" && !e.late && !undone.has(e.id));
  return left.sort((a, b) => Date.parse(a.at) - Date.parse(b.at) || a.seq - b.seq);
}

/** What somebody's Undo takes back until the core has answered. */
export const guessUndo = (who: string, events: readonly Tap[]): string | undefined => standing(events).findLast((e) => e.by === who)?.id;

function tapped(s: StepState, e: Tap) {
  const over = s.status === "done" || s.status === "skipped";
  if ((e.kind === "start" && s.status === "waiting") || (e.kind === "resume" && s.status === "paused")) {
    Object.assign(s, { status: "running", since: e.at, by: e.by ?? s.by });
    s.started ??= e.at;
  } else if (e.kind === "pause" && s.status === "running") s.status = "paused";
  else if (e.kind === "done" && !over) s.status = "done";
  else if (e.kind === "skip" && !over) s.status = "skipped";
}

/** Who has what in hand: the step that each began last. */
function hands(steps: StepState[]): State["hands"] {
  const open = steps.filter((s) => s.status === "running" || s.status === "paused");
  open.sort((a, b) => Date.parse(b.since ?? "") - Date.parse(a.since ?? ""));
  const by = new Map<string, string>();
  for (const s of open) if (!by.has(s.by ?? "")) by.set(s.by ?? "", s.id);
  return [...by].map(([by, step]) => ({ by, step })).sort((a, b) => (a.by < b.by ? -1 : 1));
}

type Lane = { step?: string; after: string[] };

/** Somebody's lane until the core has answered: what they have in hand, else the first still waiting of what was told before. */
export function guessLane(was: Lane | undefined, state: State, whose: string): Lane {
  const waiting = new Set(state.steps.filter((s) => s.status === "waiting").map((s) => s.id));
  const told = was ? [was.step ?? "", ...was.after] : [];
  const ahead = [...new Set([...told, ...waiting])].filter((id) => waiting.has(id));
  const step = state.hands.find((h) => h.by === whose)?.step ?? ahead[0];
  return { ...(step && { step }), after: ahead.filter((id) => id !== step).slice(0, 2) };
}
