import { DoorOpen, MapPin } from "lucide-react";
import { useState } from "react";
import { hour, minutes } from "../kit/format";
import { Button, inputLook } from "../kit/kit";
import type { State, Tapping, WashView } from "./useWash";

type Planned = WashView["steps"][number];

/** Questions that only the work can answer: one tap, and the rest of the wash follows. */
export function Questions({ view, state, tap }: { view: WashView; state: State; tap: Tapping }) {
  const steps = state.asking.flatMap((id) => view.steps.find((s) => s.id === id) ?? []);
  if (!view.mayTap) return null;
  return steps.map((s) => (
    <div key={s.id} role="group" aria-label={s.asks?.text} className="rounded-xl border-2 border-tide bg-tide-wash p-2.5">
      <p className="text-lg font-semibold">
        {s.asks?.text} {s.part && <span className="font-normal">{s.part}</span>}
      </p>
      <div className="mt-1.5 grid grid-cols-2 gap-2">
        {(["yes", "no"] as const).map((says) => (
          <Button key={says} className="min-h-[56px] text-lg" onClick={() => void tap({ kind: "answer", step: s.id, says })}>
            {says === "yes" ? "Yes" : "No"}
          </Button>
        ))}
      </div>
    </div>
  ));
}

/** What was left open as a reminder, until it is closed. */
export function LeftOpen({ state }: { state: State }) {
  if (state.open.length === 0) return null;
  return (
    <p className="flex items-center gap-2 rounded-xl border-2 border-line px-3 py-1.5">
      <DoorOpen size={20} className="shrink-0 text-amber-ink" aria-hidden />
      <span>
        Open: <b>{state.open.map((m) => m.name).join(", ")}</b>
      </span>
    </p>
  );
}

/** Before a wash is finished with something open: close it, or say why not. */
export function StillOpen({ state, tap }: { state: State; tap: Tapping }) {
  const [why, setWhy] = useState("");
  const names = state.open.map((m) => m.name).join(", ");
  return (
    <section aria-label="Still open" className="grid gap-2 rounded-xl border-2 border-tide bg-paper p-3">
      <p className="text-lg font-semibold">Still open: {names}.</p>
      <Button
        look="act"
        className="min-h-[64px] text-lg"
        onClick={() => void tap(...state.open.map((m) => ({ kind: "shut" as const, mark: m.name })), { kind: "finish" })}
      >
        All closed: finish the wash
      </Button>
      <form
        className="grid gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          if (why.trim()) void tap({ kind: "finish", text: why.trim() });
        }}
      >
        <input
          aria-label="Why it stays open"
          className={`${inputLook} min-h-[60px]`}
          value={why}
          maxLength={1000}
          placeholder="Or say why it stays open"
          onChange={(e) => setWhy(e.target.value)}
        />
        <Button className="min-h-[60px]" type="submit" disabled={!why.trim()}>
          Finish it so
        </Button>
      </form>
    </section>
  );
}

/** Asked once, quietly, when a step runs well past its plan or another's tap shows that the work is further on. */
export function StillThere({ title, onOpen }: { title: string; onOpen: () => void }) {
  return (
    <div role="status" className="flex items-center gap-3 rounded-xl border-2 border-amber-ink bg-amber-wash p-2.5">
      <MapPin className="shrink-0" aria-hidden />
      <p className="grow leading-tight">
        Nothing tapped for a while: still at <b>{title}</b>?
      </p>
      <Button className="min-h-[56px]" onClick={onOpen}>
        Where are you now?
      </Button>
    </div>
  );
}

/** How long ago the next step may have begun, min. */
const agos = [0, 5, 10];

/** Where somebody is whose hands were too wet to tap: the times in between are estimated, and marked so. */
export function WhereNow({
  step,
  since,
  next,
  at,
  tap,
  close,
}: {
  step: Planned;
  /** When the step in hand was begun or taken up again, ms. */
  since: number;
  next: Planned | undefined;
  at: number;
  tap: Tapping;
  close: () => void;
}) {
  const say = (...made: Parameters<Tapping>) => {
    void tap(...made);
    close();
  };
  const began = agos.filter((ago) => at - ago * 60_000 > since);
  const moved = (ago: number) => ({
    kind: "moved" as const,
    step: step.id,
    ago: ago * 60_000,
    ...(next && { next: next.id }),
  });
  return (
    <section aria-label="Where are you now?" className="grid gap-2 rounded-xl border-2 border-tide bg-paper p-3">
      <p className="text-lg font-semibold">Where are you now?</p>
      <Button className="min-h-[64px] text-lg" onClick={() => say({ kind: "here", step: step.id })}>
        Still at {step.title}
      </Button>
      {began.map((ago) => (
        <Button key={ago} className="min-h-[64px] text-lg" onClick={() => say(moved(ago))}>
          {next ? `At ${next.title}` : `${step.title} is done`}, since{" "}
          {ago === 0 ? "about now" : `about ${hour(new Date(at - ago * 60_000))} (${minutes(ago)})`}
        </Button>
      ))}
      <Button className="min-h-[64px] text-lg" onClick={() => say({ kind: "pause", step: step.id })}>
        Taking a break
      </Button>
      <p className="text-sm text-faded">These times are estimated: dwells and promises go by them, standards do not.</p>
      <Button className="min-h-[56px]" onClick={close}>
        Back
      </Button>
    </section>
  );
}
