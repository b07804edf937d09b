import { Gem } from "lucide-react";
import { useWords, useMay } from "../api/shop";
import { sentence } from "../kit/format";
import { Button } from "../kit/kit";
import type { State, Tapping, WashView } from "./useWash";

type Find = State["found"][number];

/** Bonded matter found in this wash that waits for the lead's word, or has had it. */
export function Finds({ view, state, tap }: { view: WashView; state: State; tap: Tapping }) {
  const may = useMay();
  const words = useWords().data;
  const shown = state.found.filter((f) => f.remedy === "ask" || f.decided);
  if (shown.length === 0) return null;
  const parts = words?.bodies.find((b) => b.body === view.spec.body)?.parts;
  const where = (f: Find) => parts?.find((p) => p.zone === f.zone)?.label ?? f.zone;
  const say = (f: Find, remedy: "take off" | "leave") => void tap({ kind: "bonded", matter: f.matter, zone: f.zone, remedy });
  return (
    <ul className="grid gap-2" aria-label="Bonded matter found">
      {shown.map((f) => (
        <li
          key={f.matter + f.zone}
          className={`rounded-xl border-2 p-2.5 ${f.remedy === "ask" ? "border-amber bg-amber-wash" : "border-line"}`}
        >
          <p className="flex gap-1.5 font-semibold">
            <Gem size={18} className="mt-0.5 shrink-0" aria-hidden />
            {sentence(f.matter)} on {where(f)}:{" "}
            {f.remedy === "ask" ? "the lead is asked" : f.remedy === "take off" ? "take it off" : "leave it, it is noted"}
          </p>
          {f.remedy === "ask" && may("run the day") && (
            <div className="mt-2 grid grid-cols-2 gap-2">
              <Button className="min-h-[56px]" onClick={() => say(f, "take off")}>
                Take it off
              </Button>
              <Button className="min-h-[56px]" onClick={() => say(f, "leave")}>
                Leave it
              </Button>
            </div>
          )}
        </li>
      ))}
    </ul>
  );
}
