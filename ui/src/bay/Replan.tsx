import { useState } from "react";
import { usePeople } from "../api/shop";
import { Button, inputLook, Tick } from "../kit/kit";
import { minutes } from "../kit/format";
import type { State, Tapping, WashView } from "./useWash";

interface Props {
  view: WashView;
  state: State;
  tap: Tapping;
  close: () => void;
}

/** The lead changes the plan of a wash that runs: what nobody has begun is left out or comes back, somebody helps. It is a tap like any other, with its reason. */
export function Replan({ view, state, tap, close }: Props) {
  const open = view.steps.filter((s, i) => {
    const did = state.steps[i];
    return !s.rework && (did?.status === "waiting" || did?.replanned);
  });
  const [out, setOut] = useState(() => new Set(state.steps.filter((s) => s.replanned).map((s) => s.id)));
  const [helpers, setHelpers] = useState(() => new Set(state.helpers ?? view.frozen.arranged.people ?? []));
  const [why, setWhy] = useState("");
  const people = (usePeople().data ?? []).filter((p) => p.role !== "auditor" && p.id !== view.washer.id);
  const flip = (set: Set<string>, id: string) => {
    const next = new Set(set);
    if (!next.delete(id)) next.add(id);
    return next;
  };
  return (
    <form
      className="grid gap-2 rounded-xl border-2 border-tide bg-paper p-3"
      onSubmit={(e) => {
        e.preventDefault();
        if (!why.trim()) return;
        void tap({ kind: "replan", text: why.trim(), plan: { without: [...out], people: [...helpers] } });
        close();
      }}
    >
      <p className="text-lg font-semibold">Still to do</p>
      {open.length === 0 && <p>Every step has been begun.</p>}
      {open.map((s) => (
        <Tick
          key={s.id}
          className="min-h-[56px] text-lg leading-tight"
          on={!out.has(s.id)}
          onChange={() => setOut(flip(out, s.id))}
          label={
            <>
              {s.title} <span className="num text-faded">{minutes(s.minutes)}</span>
            </>
          }
        />
      ))}
      <p className="text-lg font-semibold">Who helps</p>
      {people.map((p) => (
        <Tick
          key={p.id}
          className="min-h-[56px] text-lg leading-tight"
          on={helpers.has(p.id)}
          onChange={() => setHelpers(flip(helpers, p.id))}
          label={p.name}
        />
      ))}
      <input
        aria-label="Why the plan changes"
        className={`${inputLook} min-h-[60px]`}
        value={why}
        maxLength={1000}
        onChange={(e) => setWhy(e.target.value)}
        placeholder="Why (everybody on this car reads it)"
      />
      <div className="grid grid-cols-2 gap-2">
        <Button className="min-h-[60px]" onClick={close}>
          Back
        </Button>
        <Button className="min-h-[60px]" look="act" type="submit" disabled={!why.trim()}>
          Change the plan
        </Button>
      </div>
    </form>
  );
}
