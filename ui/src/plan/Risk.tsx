import { AlertTriangle } from "lucide-react";
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
  const risks = (line.promise?.dwells ?? []).flatMap((risk) => {
    const soak = line.timeline.soaks.find((s) => soakKey(s) === soakKey(risk));
    return soak && (risk.chance > 0 || !soak.fits) ? [{ risk, soak }] : [];
  });
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
  if (risks.length === 0 && line.wet.length === 0) return null;
  return (
    <details className="mb-3" open={line.wet.length > 0}>
      <summary className="font-semibold text-tide">What could dry, where and when</summary>
      <ul className="mt-1 grid gap-1">
        {line.wet.map((f) => (
          <li key={f.step + f.outcome} className="flex flex-wrap items-center gap-x-3">
            <AlertTriangle size={19} className="shrink-0 text-rust" aria-hidden />
            <span className="grow basis-64 font-semibold text-rust">
              From <span className="num">{at(line.zero, f.at)}</span>: {f.says}
            </span>
            {shown(f.step)}
          </li>
        ))}
        {risks.map(({ risk, soak }) => {
          const dwell = steps.find((s) => s.id === soak.step)?.dwell;
          const limit = dwell?.shortened ? "it dries" : "its label ends";
          return (
            <li key={soakKey(soak)} className="flex flex-wrap items-center gap-x-3">
              <span className="grow">
                <b>{sentence(soak.title)}</b>: {often(risk.chance)} overrun it.{" "}
                {dwell?.shortened && dwell.driest ? `It dries first on the ${dwell.driest}, ` : `${sentence(limit)} `}
                at <b className="num">{at(line.zero, soak.latest)}</b>; by this plan it comes off from{" "}
                <b className="num">{at(line.zero, soak.end)}</b>.
              </span>
              {shown(putOn(soak))}
            </li>
          );
        })}
      </ul>
    </details>
  );
}
