import { AlertTriangle } from "lucide-react";
import type { Schemas } from "../api/client";
import { minutes, plural, useQuantities } from "../kit/format";

/** What a washer must know for this step. Cautions come first, and stand open at every new step: gloves are put on before it, not after. */
export function Prompts({
  s,
  counted,
  begun,
  poured,
}: {
  s: Schemas["FilledStep"];
  counted: string | undefined;
  begun: boolean;
  poured?: number | undefined;
}) {
  const q = useQuantities();
  const cautions = s.cautions ?? [];
  return (
    <div className="grid gap-2">
      {cautions.length > 0 && (
        <details key={s.id} className="rounded-xl bg-amber-wash px-2.5" open>
          <summary className="flex min-h-[56px] items-center font-semibold">
            <AlertTriangle size={18} className="mr-1.5 inline align-[-3px]" aria-hidden />
            {begun ? plural(cautions.length, "caution") : "Before you begin"}
          </summary>
          <ul className="grid gap-1 pb-2.5">
            {cautions.map((c) => (
              <li key={c}>{c}</li>
            ))}
          </ul>
        </details>
      )}
      {s.mix && (
        <p className="text-xl leading-snug font-semibold">
          <span className="num">{q.volume(s.mix.ml)}</span> {s.mix.product} in <span className="num">{q.volume(s.mix.water)}</span> water
          {counted && <span className="block text-lg font-normal">{s.mix.counts ? counted : `about ${counted}`}</span>}
          {(s.added ?? []).map((a) => (
            <span key={a.class} className="block text-lg">
              and <span className="num">{q.volume(a.ml)}</span> {a.product}
            </span>
          ))}
        </p>
      )}
      {poured !== undefined && (
        <p className="text-lg font-semibold">
          You put in <span className="num">{q.volume(poured)}</span>.
        </p>
      )}
      {s.panels && (
        <p className="text-lg leading-snug">
          Rinse the car after every <span className="num font-semibold">{plural(s.panels.perRinse, "panel")}</span>: suds dry sooner than
          you think.
        </p>
      )}
      {s.dwell?.each && (
        <p className="font-semibold">
          Leave it <span className="num">{minutes(s.dwell.from / 60)}</span> to <span className="num">{minutes(s.dwell.to / 60)}</span> on
          each.
        </p>
      )}
      {s.dwell && s.dwell.sections > 1 && <p className="font-semibold text-rust">In {s.dwell.sections} parts, or the first dries.</p>}
      <p className="text-lg leading-snug">{s.text}</p>
      {s.lookFor && <p className="leading-snug text-faded">Done when: {s.lookFor}</p>}
    </div>
  );
}
