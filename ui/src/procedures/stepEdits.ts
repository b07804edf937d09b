import { freeId, type Procedure, type Step } from "./words";

export type Change = (make: (p: Procedure) => Procedure) => void;

const without = (s: Step, ...keys: (keyof Step)[]): Step =>
  Object.fromEntries(Object.entries(s).filter(([key]) => !keys.includes(key as keyof Step))) as unknown as Step;

const optional = new Set<string>(
  [
    "round once tool cloth colour machine skill act medium during lookFor water class product dose dwell ends rewets after says",
    "only uses asks if opens closes repeats",
  ]
    .join(" ")
    .split(" "),
);

/** Fields left empty are absent. */
export function clean(s: Step): Step {
  const empty = (v: unknown) => v === "" || v === undefined || (Array.isArray(v) && v.length === 0);
  return Object.fromEntries(Object.entries(s).filter(([key, v]) => !(optional.has(key) && empty(v)))) as unknown as Step;
}

/** What can be done with a step as a whole. */
export function stepEdits(doc: Procedure, step: Step, change: Change, onSelect: (id: string) => void) {
  const set = (next: Partial<Step>) =>
    change((p) => ({
      ...p,
      stages: p.stages.map((s) => ({ ...s, steps: s.steps.map((x) => (x.id === step.id ? clean({ ...x, ...next }) : x)) })),
    }));
  const duplicate = () => {
    const id = freeId(doc, step.title);
    change((p) => ({
      ...p,
      stages: p.stages.map((s) => {
        const at = s.steps.findIndex((x) => x.id === step.id);
        return at < 0
          ? s
          : { ...s, steps: [...s.steps.slice(0, at + 1), { ...step, id, title: `${step.title} (again)` }, ...s.steps.slice(at + 1)] };
      }),
    }));
    onSelect(id);
  };
  /** The instruction's first sentence stays; the rest becomes a step of its own. */
  const split = () => {
    const cut = step.text.search(/[.;]\s/);
    if (cut < 0) return;
    const id = freeId(doc, step.title);
    const half = (t: Step["time"]) => ({ ...t, fixed: t.fixed / 2, body: t.body / 2, perWheel: t.perWheel / 2 });
    change((p) => ({
      ...p,
      stages: p.stages.map((s) => {
        const at = s.steps.findIndex((x) => x.id === step.id);
        if (at < 0) return s;
        const first = { ...step, text: step.text.slice(0, cut + 1), time: half(step.time) };
        const second = clean({
          ...without(step, "dose", "dwell"),
          id,
          title: `${step.title}, then`,
          text: step.text.slice(cut + 2),
          time: half(step.time),
        });
        return { ...s, steps: [...s.steps.slice(0, at), first, second, ...s.steps.slice(at + 1)] };
      }),
    }));
    onSelect(id);
  };
  const remove = () => {
    change((p) => ({ ...p, stages: p.stages.map((s) => ({ ...s, steps: s.steps.filter((x) => x.id !== step.id) })) }));
    onSelect("");
  };
  const moveTo = (stage: string) =>
    change((p) => ({
      ...p,
      stages: p.stages.map((s) => {
        const rest = s.steps.filter((x) => x.id !== step.id);
        return { ...s, steps: s.id === stage ? [...rest, step] : rest };
      }),
    }));
  return { set, duplicate, split, remove, moveTo };
}
