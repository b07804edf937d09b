import type { State, WashView } from "./useWash";

/** One tap for a part of a round whose steps were not tapped singly: all of them are done, and the next part begins. */
export function closing(view: WashView, state: State, step: WashView["steps"][number] | undefined) {
  const part = view.plan.steps.find((s) => s.id === step?.id)?.part;
  if (!part || !step) return undefined;
  const open = view.plan.steps.filter(
    (s) =>
      s.part?.round === part.round &&
      s.part.n === part.n &&
      !["done", "skipped"].includes(state.steps.find((x) => x.id === s.id)?.status ?? ""),
  );
  if (open.length < 2) return undefined; // its last step: that is what the big button is for
  const next = view.plan.steps.find((s) => s.part?.round === part.round && s.part.n === part.n + 1);
  return {
    says: next ? `Next ${part.one}: ${next.part?.label}` : `This ${part.one} is done`,
    taps: [
      ...open.map((s) => ({ kind: "done" as const, step: s.id, whole: true })),
      ...(next ? [{ kind: "start" as const, step: next.id }] : []),
    ],
  };
}
