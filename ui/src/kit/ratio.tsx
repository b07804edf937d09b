import type { Schemas } from "../api/client";
import { useQuantities } from "./format";

/** A mixing ratio as the shop writes it; every other reading on request. */
export function Ratio({ readings, label, note }: { readings: Schemas["Readings"]; label?: string; note?: string }) {
  const q = useQuantities();
  return (
    <details className="group">
      <summary className="inline-flex min-h-hit cursor-pointer items-center gap-2">
        <b className={label ? "num text-2xl" : "num"}>{q.ratio(readings)}</b>
        {label}
        <span className="text-sm text-tide underline underline-offset-4 group-open:hidden">other readings</span>
      </summary>
      <span className="num block text-sm text-faded">
        {readings.partsPlusParts} parts · {readings.onePartIn} · {readings.waterFirst} water first · {readings.percent.toPrecision(3)} %
        {note && <span className="block">{note}</span>}
      </span>
    </details>
  );
}
