import { Droplets, FlipHorizontal2, Hand } from "lucide-react";
import { useWords } from "../api/shop";
import { plural } from "../kit/format";
import { Button } from "../kit/kit";
import type { State, Tapping, WashView } from "./useWash";

type StepState = State["steps"][number];

/** Where the mitt stands by the plan: which mittful, what is washed with it, and whether a rinse is due after it. In a round
 *  one more is due, before the next part. */
export function useMitt(view: WashView, did: StepState | undefined) {
  const list = (did && view.mittfuls[did.id]) ?? [];
  const rinses = did?.rinses ?? 0;
  const at = Math.min(rinses, list.length - 1);
  const asked = view.plan.steps.find((s) => s.id === did?.id)?.panels?.rinses ?? 0;
  return { list, rinses, due: list.length > 0 && rinses < asked, now: list[at] };
}

/** Flips and rinses as the contact plan has them, a mittful at a time. */
export function Mitt({ view, did, tap, may }: { view: WashView; did: StepState; tap: Tapping; may: boolean }) {
  const { list, rinses, due, now } = useMitt(view, did);
  const words = useWords().data;
  if (!now) return null;
  const parts = words?.bodies.find((b) => b.body === view.spec.body)?.parts;
  const label = (zone: string) => parts?.find((p) => p.zone === zone)?.label ?? zone;
  const how = view.plan.settled.find((s) => s.fact === "mitt in the rinse bucket")?.value;
  return (
    <section aria-label="Mitt" className="rounded-xl border-2 border-tide p-2.5">
      <p className="flex items-baseline justify-between gap-2">
        <b>
          <Hand size={18} className="mr-1.5 inline align-[-3px]" aria-hidden />
          Mittful <span className="num">{Math.min(rinses, list.length - 1) + 1}</span> of <span className="num">{list.length}</span>
        </b>
        {(did.dropped ?? 0) > 0 && <span className="text-faded">{plural(did.dropped ?? 0, "mitt")} dropped</span>}
      </p>
      <ol className="mt-1 flex flex-wrap items-center gap-x-1.5 gap-y-1 text-xl leading-snug font-semibold">
        {now.acts.map((a, i) => (
          <li key={i} className="flex items-center gap-1.5">
            {i > 0 && (
              <span aria-hidden className="text-faded">
                ›
              </span>
            )}
            {a.do === "flip" ? (
              <span className="flex items-center gap-1 rounded-lg bg-tide-wash px-2">
                <FlipHorizontal2 size={20} aria-hidden /> flip
              </span>
            ) : a.do === "change to the lower mitt" ? (
              <span className="rounded-lg bg-tide-wash px-2">take the lower mitt</span>
            ) : (
              <span>
                {label(a.zone ?? "")}
                {a.part && <span className="font-normal text-faded"> {a.part}</span>}
              </span>
            )}
          </li>
        ))}
      </ol>
      {due ? (
        <>
          <p className="mt-1">
            Then rinse: {how === "swish" ? "swish" : "rub twice over the guard"}, wring outside the bucket, load with suds.
          </p>
          {may && (
            <Button className="mt-2 min-h-[64px] w-full text-xl" onClick={() => void tap({ kind: "rinsed", step: did.id })}>
              <Droplets size={22} aria-hidden /> Mitt rinsed
            </Button>
          )}
        </>
      ) : (
        <p className="mt-1">Last one: no rinse needed after it.</p>
      )}
    </section>
  );
}
