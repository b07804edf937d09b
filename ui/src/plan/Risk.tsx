import { AlertTriangle, Droplet } from "lucide-react";
import type { Schemas } from "../api/client";
import { hour, sentence } from "../kit/format";
import { Button } from "../kit/kit";
import { putOn } from "../ribbon/Strip";

type View = Schemas["TimelineView"];
type Soak = Schemas["Soak"];

const at = (zero: string, s: number) => hour(new Date(Date.parse(zero) + s * 1000));

const soakKey = (s: Pick<Soak, "from" | "to">) => `${s.from} ${s.to}`;

/** How many washes, in words: nobody counts with half a wash. */
const often = (chance: number) => (chance < 0.01 ? "fewer than 1 of 100 washes" : `${Math.round(chance * 100)} of 100 washes`);

/** From which chance on a risk is spoken of. */
const shownFrom = 0.005;

/** What could dry: the product, where on the car first, and from when on; each can be shown on the ribbon. */
export function Risk({
  line,
  steps,
  marked,
  onMark,
}: {
  line: View;
  steps: readonly Schemas["FilledStep"][];
  marked: string;
  onMark: (step: string) => void;
}) {
  const risks = worst(line);
  const shown = (step: string) => (
    <Button
      className="no-print min-h-hit"
      aria-pressed={marked === step}
      aria-label={`Show on the ribbon: ${line.titles[step] ?? step}`}
      onClick={() => onMark(marked === step ? "" : step)}
    >
      Show on the ribbon
    </Button>
  );
  return (
    <>
      {line.wet.length > 0 && (
        <ul className="mb-2 grid gap-1" aria-label="Not taken off in time">
          {line.wet.map((f) => (
            <li key={f.step + f.outcome} className="grid items-center gap-x-3 sm:grid-cols-[auto_minmax(0,1fr)_auto]">
              <AlertTriangle size={19} className="text-rust max-sm:hidden" aria-hidden />
              <span className="font-semibold text-rust">
                From <span className="num">{at(line.zero, f.at)}</span>: {f.says}
              </span>
              {shown(f.step)}
            </li>
          ))}
        </ul>
      )}
      {(line.spots ?? []).length > 0 && (
        <ul className="mb-2 grid gap-1" aria-label="Water and suds that dry">
          {line.spots?.map((s) => (
            <li key={s.says} className="flex items-start gap-2">
              <Droplet size={18} className="mt-0.5 shrink-0 text-amber-ink" aria-hidden /> {s.says}
            </li>
          ))}
        </ul>
      )}
      {risks.length > 0 && (
        <details className="mb-3">
          <summary className="font-semibold text-tide">What could dry, where and when</summary>
          <ul className="mt-1 grid gap-1">
            {risks.map(({ risk, soak }) => (
              <li key={putOn(soak)} className="grid items-center gap-x-3 sm:grid-cols-[minmax(0,1fr)_auto]">
                <span>
                  <b>{sentence(soak.whole)}</b>: {often(risk.chance)} overrun it. {limit(soak, steps)} at{" "}
                  <b className="num">{at(line.zero, soak.latest)}</b>; by this plan it comes off from{" "}
                  <b className="num">{at(line.zero, soak.end)}</b>.
                </span>
                {shown(putOn(soak))}
              </li>
            ))}
          </ul>
        </details>
      )}
    </>
  );
}

/** What may dry by chance, once for each product that a step puts on: its riskiest part. */
function worst(line: View) {
  const by = new Map<string, { risk: Schemas["DwellRisk"]; soak: Soak }>();
  for (const risk of line.promise?.dwells ?? []) {
    const soak = line.timeline.soaks.find((s) => soakKey(s) === soakKey(risk));
    if (!soak || (risk.chance < shownFrom && soak.fits)) continue;
    const was = by.get(putOn(soak));
    if (!was || risk.chance > was.risk.chance) by.set(putOn(soak), { risk, soak });
  }
  return [...by.values()];
}

/** What ends a product's time: drying, with where it dries first, or its label. */
function limit(soak: Soak, steps: readonly Schemas["FilledStep"][]) {
  const dwell = steps.find((s) => s.id === soak.step)?.dwell;
  if (!dwell?.shortened) return "Its label ends";
  return dwell.driest ? `It dries first on the ${dwell.driest},` : "It dries";
}
