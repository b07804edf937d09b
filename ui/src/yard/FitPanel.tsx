import { AlertTriangle, Check } from "lucide-react";
import type { Schemas } from "../api/client";
import { hour, plural } from "../kit/format";
import { Button } from "../kit/kit";

/** Whether a booking fits its day, said before it is saved; where it does not, the slots that would do better. */
export function FitPanel({ fit, busy, take }: { fit: Schemas["Fit"]; busy: boolean; take: (p: Schemas["Proposal"]) => void }) {
  return (
    <section
      aria-label="Whether it fits"
      aria-live="polite"
      aria-busy={busy}
      className={`rounded-xl border-2 p-3 ${fit.fits ? "border-moss bg-moss-wash" : "border-amber bg-amber-wash"}`}
    >
      <p className="flex items-start gap-2 font-semibold">
        {fit.fits ? (
          <Check className="shrink-0 text-moss" aria-hidden />
        ) : (
          <AlertTriangle className="shrink-0 text-amber-ink" aria-hidden />
        )}
        <span>
          {fit.fits ? "It fits." : "It does not fit."} {fit.says}
          {fit.late.length > 0 && ` It makes ${fit.late.join(", ")} late.`}
        </span>
      </p>
      {fit.where.length > 0 && (
        <ul aria-label="Where it would fit better" className="mt-2 grid gap-1.5">
          {fit.where.map((p) => (
            <li key={p.place + p.washer.id}>
              <Button className="w-full justify-start! text-left" onClick={() => take(p)}>
                <span>
                  {p.called}, {p.washer.name}: <span className="num">{hour(p.startsAt)}</span> to{" "}
                  <span className="num">{hour(p.readyAt)}</span>
                  <span className="block text-sm font-normal text-faded">
                    {p.late > 0 ? `${plural(p.late, "minute")} after the promise` : "in time"}
                    {p.delays > 0 && `, others ${plural(p.delays, "minute")} later`}
                  </span>
                </span>
              </Button>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
