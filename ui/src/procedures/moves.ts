import { clean } from "./stepEdits";
import { type Procedure, stepsOf } from "./words";

/** Moves a step before another one, or to the end of a stage. Between two steps of a round it joins the round; away from
 *  all of its own it leaves it. */
export function moved(p: Procedure, id: string, to: { before?: string; stage?: string }): Procedure {
  const next = placed(p, id, to);
  const steps = stepsOf(next);
  const at = steps.findIndex((s) => s.id === id);
  const [above, step, below] = [steps[at - 1]?.round, steps[at]?.round, steps[at + 1]?.round];
  if (above && above === below && step !== above) return joined(next, id, above);
  if (step && above !== step && below !== step && steps.some((s) => s.id !== id && s.round === step)) return joined(next, id, "");
  return next;
}

/** The step in a round, or in none. */
const joined = (p: Procedure, id: string, round: string): Procedure => ({
  ...p,
  stages: p.stages.map((s) => ({ ...s, steps: s.steps.map((x) => (x.id === id ? clean({ ...x, round, once: "" }) : x)) })),
});

function placed(p: Procedure, id: string, to: { before?: string; stage?: string }): Procedure {
  const step = p.stages.flatMap((s) => s.steps).find((s) => s.id === id);
  if (!step || to.before === id) return p;
  const without = p.stages.map((s) => ({ ...s, steps: s.steps.filter((x) => x.id !== id) }));
  return {
    ...p,
    stages: without.map((s) => {
      const at = to.before ? s.steps.findIndex((x) => x.id === to.before) : s.id === to.stage ? s.steps.length : -1;
      return at < 0 ? s : { ...s, steps: [...s.steps.slice(0, at), step, ...s.steps.slice(at)] };
    }),
  };
}

/** One place up or down, over the edge of a stage too. */
export function nudged(p: Procedure, id: string, by: 1 | -1): Procedure {
  const stages = p.stages;
  const at = stages.findIndex((s) => s.steps.some((x) => x.id === id));
  const steps = stages[at]?.steps ?? [];
  const i = steps.findIndex((x) => x.id === id);
  const neighbour = steps[i + by];
  if (neighbour) {
    if (by === -1) return moved(p, id, { before: neighbour.id });
    const after = steps[i + 2];
    return after ? moved(p, id, { before: after.id }) : moved(p, id, { stage: stages[at]?.id ?? "" });
  }
  const next = stages[at + by];
  if (!next) return p;
  const first = next.steps[0];
  return by === 1 && first ? moved(p, id, { before: first.id }) : moved(p, id, { stage: next.id });
}
