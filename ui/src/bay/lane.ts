import type { Schemas } from "../api/client";
import type { State } from "./fold";
import type { WashView } from "./useWash";

type Step = Schemas["WashStep"];
type TimelineView = Schemas["TimelineView"];

export interface Lane {
  /** What this person has in hand, or else is to do next. */
  step?: Step;
  /** What comes after it, two at most. */
  after: Step[];
}

/** One person's lane: what they have in hand, and what the plan gives them next, in the plan's order, which overlaps dwells with work. What it gives to nobody is everybody's; whose own is done goes on with
 *  what others have not begun. Without the plan (no connection yet) the steps come in the procedure's order. */
export function laneOf(me: string, view: WashView, state: State, rest: TimelineView | undefined): Lane {
  const status = new Map(state.steps.map((s) => [s.id, s.status]));
  const waiting = view.steps.filter((s) => status.get(s.id) === "waiting");
  const plan = rest && planOf(me, rest);
  const own = plan ? waiting.filter((s) => s.rework || plan.mine(s.id)) : waiting;
  const ahead = own.length > 0 ? own : waiting;
  if (plan) ahead.sort((a, b) => plan.begins(a.id) - plan.begins(b.id));
  const inHand = view.steps.find((s) => s.id === state.hands.find((h) => h.by === me)?.step);
  const step = inHand ?? ahead[0];
  return { ...(step && { step }), after: ahead.filter((s) => s !== step).slice(0, 2) };
}

/** What the plan says of somebody's steps; undefined when it does not know them. */
function planOf(me: string, rest: TimelineView) {
  const name = rest.crew.find((p) => p.id === me)?.name;
  if (name === undefined) return undefined;
  const starts = new Map<string, number>();
  const whose = new Map<string, string[]>();
  for (const { step, start, who } of rest.timeline.slots) {
    if (!step) continue;
    starts.set(step, Math.min(starts.get(step) ?? Infinity, start));
    if (who) whose.set(step, [...(whose.get(step) ?? []), who]);
  }
  return {
    mine: (step: string) => whose.get(step)?.some((w) => w === name || w.startsWith(`${name} (`)) ?? true,
    // A step that the plan does not have comes last.
    begins: (step: string) => starts.get(step) ?? Number.MAX_SAFE_INTEGER,
  };
}
