import { Check, Eye } from "lucide-react";
import { sentence } from "../kit/format";
import { Button } from "../kit/kit";
import type { State, Tapping, WashView } from "./useWash";

type Planned = WashView["steps"][number];

/** What is looked at before the step at hand is begun, one look at a time: right by a tap, or what is found. What was found is
 *  put right with what is at hand, and a tap says so. */
export function Looks({ step, did, tap }: { step: Planned; did: State["steps"][number]; tap: Tapping }) {
  const due = did.due ?? [];
  const look = step.looks?.find((l) => l.id === due[0]);
  if (!look) return null;
  const found = did.looks?.find((l) => l.look === look.id)?.found;
  const say = (what?: string) => void tap({ kind: "checked", step: step.id, look: look.id, ...(what && { found: what }) });
  const at = (step.looks ?? []).indexOf(look) + 1;
  return (
    <section aria-label={look.check} className="grid gap-2 rounded-xl border-2 border-tide bg-tide-wash p-2.5">
      <p className="flex items-center justify-between gap-2 text-faded">
        <span className="flex items-center gap-1.5">
          <Eye size={18} aria-hidden /> {look.check}
        </span>
        <span className="num">{`${at} of ${step.looks?.length ?? 0}`}</span>
      </p>
      <p className="text-lg leading-tight font-semibold">{look.title}</p>
      {look.how && <p className="leading-snug">{look.how}</p>}
      {look.done && (
        <p className="leading-snug">
          <b>Right when:</b> {look.done}
        </p>
      )}
      {found ? (
        <>
          <p role="status" className="font-semibold text-rust">{`${sentence(found)}: put it right now.`}</p>
          <Button className="min-h-[64px] text-lg" onClick={() => say()}>
            <Check size={22} aria-hidden /> Put right
          </Button>
        </>
      ) : (
        <div className="grid grid-cols-2 gap-2">
          <Button className="col-span-2 min-h-[64px] text-lg" onClick={() => say()}>
            <Check size={22} aria-hidden /> Right
          </Button>
          {look.finds.map((f) => (
            <Button key={f} className="min-h-[56px]" onClick={() => say(f)}>
              {sentence(f)}
            </Button>
          ))}
        </div>
      )}
    </section>
  );
}
