import { Undo2 } from "lucide-react";
import type { Schemas } from "../api/client";
import { useWords } from "../api/shop";
import { sentence } from "../kit/format";
import { Button } from "../kit/kit";
import type { Sheet } from "./useSheet";

type Part = Schemas["Part"];

/** Zones that are often equally dirty, graded in one tap. */
const groups: { title: string; has: (p: Part) => boolean }[] = [
  { title: "Upper half", has: (p) => (p.band === "upper" || p.band === "middle") && (p.surface === "paint" || p.surface === "glass") },
  { title: "Lower half", has: (p) => p.band === "lower" && p.surface === "paint" },
  { title: "All wheels", has: (p) => /^(wheel|tyre|arch)-/.test(p.zone) },
];

/** What a brush needs of a sheet. */
type Brushed = Pick<Sheet, "zone" | "brush" | "setBrush" | "flagging" | "setFlagging" | "grade" | "undo" | "undoes" | "matter"> & {
  look: Pick<Sheet["look"], "grades">;
};

/** The grades as a brush: picked, it grades every zone that is tapped or drawn over. */
export function Brush({ sheet, parts }: { sheet: Brushed; parts: Part[] }) {
  const { look, zone, brush, setBrush, flagging, setFlagging, grade, undo, undoes } = sheet;
  const words = useWords().data;
  const g = brush ?? 1;
  const rest = parts.filter((p) => look.grades[p.zone] === undefined).map((p) => p.zone);
  return (
    <>
      <div className="mt-3 grid grid-cols-5 gap-1.5" role="group" aria-label="Soil grade">
        {words?.grades.map((x) => {
          const active = !flagging && (zone && brush === null ? look.grades[zone] === x.grade : brush === x.grade);
          return (
            <button
              key={x.grade}
              type="button"
              aria-pressed={active}
              title={x.looks}
              onClick={() => {
                setFlagging(false);
                setBrush(brush === x.grade ? null : x.grade);
                if (zone && brush === null) grade([zone], x.grade);
              }}
              className={`flex min-h-14 items-center gap-2.5 rounded-xl border-2 px-2.5 text-left max-sm:justify-center ${active ? "border-tide bg-tide-wash" : "border-line bg-paper hover:border-ink"}`}
            >
              <span
                className="num grid h-8 w-8 shrink-0 place-items-center rounded-lg border border-ink font-bold"
                style={{ background: `var(--soil-${x.grade})`, color: x.grade > 2 ? "var(--paper)" : "var(--ink)" }}
              >
                {x.grade}
              </span>
              <span className="min-w-0 font-semibold max-sm:hidden">{sentence(x.name)}</span>
            </button>
          );
        })}
      </div>
      <div className="mt-1.5 flex flex-wrap gap-1.5" role="group" aria-label={`Grade ${g} in one tap`}>
        {groups.map((x) => (
          <Button
            key={x.title}
            className="px-3!"
            onClick={() =>
              grade(
                parts.filter(x.has).map((p) => p.zone),
                g,
              )
            }
          >
            {x.title} {g}
          </Button>
        ))}
        {rest.length > 0 && (
          <Button className="px-3!" onClick={() => grade(rest, g)}>
            Grade all the rest {g}
          </Button>
        )}
        <Button className="ml-auto px-3!" disabled={!undoes} onClick={undo}>
          <Undo2 size={18} aria-hidden /> Undo
        </Button>
      </div>
      <Hint sheet={sheet} part={parts.find((x) => x.zone === zone)} />
    </>
  );
}

/** What a tap does now. */
function Hint({ sheet: { look, brush, flagging, matter }, part }: { sheet: Brushed; part: Part | undefined }) {
  const words = useWords().data;
  return (
    <p className="mt-1.5 min-h-10 text-sm text-faded">
      {flagging ? (
        <>Tap where you see {matter}. Tap again to take it off.</>
      ) : brush !== null ? (
        <>
          <b className="text-ink">Every zone you tap or draw over becomes grade {brush}.</b> Tap it again to take the grade off.{" "}
          {words?.grades[brush]?.looks}
        </>
      ) : part ? (
        <>
          <b className="text-ink">{sentence(part.label)}</b>: {words?.grades[look.grades[part.zone] ?? -1]?.looks ?? "not graded yet."} Keys
          0 to 4 grade it, Delete takes the grade off, arrows move on.
        </>
      ) : (
        <>Pick a grade and tap the zones that look like it; or walk with the arrow keys and press 0 to 4.</>
      )}
    </p>
  );
}
