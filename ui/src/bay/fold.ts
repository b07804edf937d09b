import type { Schemas } from "../api/client";
import type { Tap } from "../offline/db";

export type State = Schemas["State"];
type Step = Schemas["WashStep"];
type StepState = State["steps"][number];

/** Forgives a tap that comes a moment before or after its time, ms: as the server does (core/wash). */
const tolerance = 5000;

const ms = (iso: string) => Date.parse(iso);
const iso = (t: number) => new Date(t).toISOString();

/** The state of a wash by its events, on the device: what core/wash folds on the server, so that a bay without a connection sees what the shop will see. The two are held to each
 *  other by cases that the server's fold wrote (fold.test.ts). Events may be out of order, repeated or late; an event undone by whoever made it counts as never made, and so does one that came
 *  after the wash was closed. */
export function fold(steps: Step[], events: Tap[]): State {
  const state: State = {
    steps: steps.map((s) => ({ id: s.id, status: "waiting", handsOn: 0, paused: 0 })),
    hands: [],
    dwelling: [],
    notes: [],
    found: [],
    taps: 0,
  };
  const begun: string[] = [];
  for (const e of inOrder(events)) apply(steps, state, e, begun);
  settle(state, begun);
  return state;
}

function inOrder(events: Tap[]): Tap[] {
  const counted = events.filter((e) => !e.late);
  const own = (id: string, by: string | undefined) => `${id} ${by ?? ""}`;
  const undone = new Set(counted.flatMap((e) => (e.kind === "undo" && e.undoes ? [own(e.undoes, e.by)] : [])));
  const once = new Map(counted.filter((e) => e.kind !== "undo" && !undone.has(own(e.id, e.by))).map((e) => [e.id, e]));
  return [...once.values()].sort((a, b) => order(a, b));
}

const order = (a: Tap, b: Tap) => exactly(a.at, b.at) || a.seq - b.seq || (a.id < b.id ? -1 : a.id > b.id ? 1 : 0);

/** Compares moments to the microsecond, which the server keeps and Date does not. */
function exactly(a: string, b: string): number {
  const whole = ms(a) - ms(b);
  if (whole !== 0) return whole;
  const micro = (t: string) => (/\.(\d+)/.exec(t)?.[1] ?? "").padEnd(6, "0").slice(3, 6);
  return micro(a) < micro(b) ? -1 : micro(a) > micro(b) ? 1 : 0;
}

function apply(steps: Step[], state: State, t: Tap, begun: string[]) {
  state.lastTap = t.id;
  state.taps++;
  const by = t.by ? { by: t.by } : {};
  const where = t.step ? { step: t.step } : {};
  switch (t.kind) {
    case "note":
      state.notes.push({ at: t.at, text: t.text ?? "", ...where, ...by });
      return;
    case "bonded":
      found(state, t);
      return;
    case "help":
      state.help = { at: t.at, ...where, ...by, ...(t.text ? { text: t.text } : {}) };
      return;
    case "helped":
      delete state.help;
      return;
    case "finish":
      state.finished = t.at;
      delete state.help;
      return;
    case "replan":
      replan(state, t);
      return;
  }
  const s = state.steps.find((x) => x.id === t.step);
  const plan = steps.find((x) => x.id === t.step);
  if (s && plan) onStep(steps, state, s, plan, t, begun);
}

/** The plan from now on: what it leaves out and nobody began is left out, what an earlier change left out and it has comes back. */
function replan(state: State, t: Tap) {
  if (!t.plan) return;
  const { without, people } = t.plan;
  state.steps = state.steps.map((s) => {
    const out = without.includes(s.id);
    if (out && s.status === "waiting") return { ...s, status: "skipped", ended: t.at, replanned: true, ...(t.text && { reason: t.text }) };
    if (!out && s.replanned) return { id: s.id, status: "waiting", handsOn: 0, paused: 0 };
    return s;
  });
  if (people && people.length > 0) state.helpers = [...people];
}

/** Bonded matter: what is said of it later counts. */
function found(state: State, t: Tap) {
  if (!t.matter || !t.zone || !t.remedy) return;
  const was = state.found.find((f) => f.matter === t.matter && f.zone === t.zone);
  if (was) Object.assign(was, { remedy: t.remedy, ...(t.by && { decided: t.by }) });
  else state.found.push({ at: t.at, matter: t.matter, zone: t.zone, remedy: t.remedy, ...(t.by && { by: t.by }) });
}

function onStep(steps: Step[], state: State, s: StepState, plan: Step, t: Tap, begun: string[]) {
  const stretch = () => (s.since ? Math.round((ms(t.at) - ms(s.since)) / 1000) : 0);
  const close = () => {
    if (s.status === "running") s.handsOn += stretch();
    if (s.status === "paused") s.paused += stretch();
    s.ended = t.at;
    delete s.since;
  };
  switch (t.kind) {
    case "start":
    case "resume":
      start(state, s, plan, t, begun);
      return;
    case "pause":
      if (s.status !== "running") return;
      s.handsOn += stretch();
      s.status = "paused";
      s.since = t.at;
      return;
    case "skip":
      if (s.status === "done" || s.status === "skipped") return;
      close();
      s.status = "skipped";
      if (t.text) s.reason = t.text;
      return;
    case "done":
      if (s.status === "done" || s.status === "skipped") return;
      if (s.status === "waiting") start(state, s, plan, t, begun);
      close();
      s.status = "done";
      if (plan.dwell) wet(steps, state, s, plan, t);
      return;
    case "hand over":
      if (s.status === "running") {
        s.handsOn += stretch();
        s.since = t.at;
      }
      if ((s.status === "running" || s.status === "paused") && t.to) {
        s.by = t.to;
        begun.push(s.id);
      }
      return;
    case "rinsed":
      s.rinses = (s.rinses ?? 0) + 1;
      return;
    case "dropped":
      s.dropped = (s.dropped ?? 0) + 1;
      return;
    case "dried":
      for (const d of state.dwelling)
        if (d.step === s.id && d.verdict === "working") {
          d.dried = true;
          if (ms(t.at) < ms(d.latest)) d.latest = t.at;
        }
  }
}

function start(state: State, s: StepState, plan: Step, t: Tap, begun: string[]) {
  if (s.status === "waiting") {
    s.started = t.at;
    state.started ??= t.at;
    for (const d of state.dwelling)
      if (d.verdict === "working" && plan.ends?.includes(d.step)) {
        d.ended = t.at;
        d.verdict = d.dried || ms(t.at) > ms(d.latest) + tolerance ? "overrun" : ms(t.at) < ms(d.earliest) - tolerance ? "early" : "kept";
      }
  } else if (s.status === "paused") s.paused += s.since ? Math.round((ms(t.at) - ms(s.since)) / 1000) : 0;
  else return;
  s.status = "running";
  s.since = t.at;
  if (t.by) s.by = t.by;
  begun.push(s.id);
}

/** Product is on the car: it works, and what it was put over stays wet with it, but not past its own label. */
function wet(steps: Step[], state: State, s: StepState, plan: Step, t: Tap) {
  if (!plan.dwell) return;
  const after = (sec: number) => ms(t.at) + sec * 1000;
  for (const d of state.dwelling) {
    if (d.verdict !== "working" || d.dried || !plan.rewets?.includes(d.step) || ms(s.started ?? t.at) > ms(d.latest) + tolerance) continue;
    const label = ms(d.since) + (steps.find((x) => x.id === d.step)?.dwell?.label ?? 0) * 1000;
    const until = Math.min(label, after(plan.dwell.to));
    if (until > ms(d.latest)) d.latest = iso(until);
  }
  state.dwelling.push({
    step: s.id,
    since: t.at,
    earliest: iso(after(plan.dwell.from)),
    latest: iso(after(plan.dwell.to)),
    verdict: "working",
  });
}

/** Who has what in hand: of the steps open, the one each began last; and what comes next. */
function settle(state: State, begun: string[]) {
  const open = state.steps.filter((s) => s.status === "running" || s.status === "paused");
  open.sort((a, b) => begun.lastIndexOf(b.id) - begun.lastIndexOf(a.id));
  for (const s of open) {
    state.current ??= s.id;
    const by = s.by ?? "";
    if (!state.hands.some((h) => h.by === by)) state.hands.push({ by, step: s.id });
  }
  state.hands.sort((a, b) => (a.by < b.by ? -1 : 1));
  const next = state.steps.find((s) => s.status === "waiting")?.id;
  if (next) state.next = next;
}

/** The newest tap of one person that still counts: what their Undo takes back. */
export const lastOf = (who: string, events: Tap[]): string | undefined =>
  inOrder(events.filter((t) => t.kind === "undo" || t.by === who)).at(-1)?.id;
