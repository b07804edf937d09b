import type { ReactNode } from "react";
import type { Schemas } from "../api/client";
import { useWords } from "../api/shop";
import { minutes } from "../kit/format";
import { Button, Choice, Field, Select, Tick } from "../kit/kit";
import { Count } from "../kit/number";
import { PlaceForm } from "./PlaceForm";
import { inScope, type Sheet, useOrdered } from "./useSheet";

function Box({ title, note, open, children }: { title: string; note?: string; open?: boolean; children: ReactNode }) {
  return (
    <details open={open} className="rounded-2xl border border-line bg-paper px-4 py-2.5">
      <summary className="min-h-7 font-bold">
        {title} {note && <span className="font-normal text-faded">· {note}</span>}
      </summary>
      <div className="pt-2 pb-1">{children}</div>
    </details>
  );
}

/** What is asked beside the grades: bonded matter, what to watch, protection, place and service. */
export function Asked({ sheet }: { sheet: Sheet }) {
  const { look, change } = sheet;
  return (
    <>
      <Bonded sheet={sheet} />
      <Watched sheet={sheet} />
      <Box title="Protection" note={look.protection.kind}>
        <Protection sheet={sheet} />
      </Box>
      <Box title="Place, time, service" note={`${look.place.cover}, ${look.budget ? minutes(look.budget) : "no limit"}`}>
        <PlaceForm look={look} change={change} />
      </Box>
    </>
  );
}

function Bonded({ sheet: { look, matter, setMatter, flagging, setFlagging } }: { sheet: Sheet }) {
  const words = useWords().data;
  const ordered = useOrdered(look.service);
  if (!words) return null;
  return (
    <Box title="Bonded matter" open={look.bonded.length > 0 || flagging} note={look.bonded.length ? String(look.bonded.length) : ""}>
      <div className="flex gap-2">
        <Select label="Bonded matter" value={matter} onChange={setMatter} options={words.matter} />
        <Button aria-pressed={flagging} look={flagging ? "act" : "plain"} onClick={() => setFlagging(!flagging)}>
          {flagging ? "Stop" : "Mark"}
        </Button>
      </div>
      <p className="mt-1 text-sm text-faded">
        {inScope(ordered, matter) ? "Comes off" : "Does not come off: noted, and another service offered"}
        {ordered ? ` with ${ordered.name}.` : "."}
      </p>
    </Box>
  );
}

function Watched({ sheet: { look, change } }: { sheet: Sheet }) {
  const words = useWords().data;
  const count = look.watch.length + (look.salt ? 1 : 0);
  if (!words) return null;
  const film = look.watch.includes("film edges") && look.protection.kind !== "film";
  return (
    <Box title="Watch list" open note={count ? String(count) : ""}>
      <ul className="grid gap-1">
        {words.watch.map((w) => {
          const on = look.watch.includes(w.watch);
          return (
            <li key={w.watch}>
              <Tick
                on={on}
                onChange={(now) => change({ ...look, watch: now ? [...look.watch, w.watch] : look.watch.filter((x) => x !== w.watch) })}
                label={
                  <>
                    {w.label}
                    {on && <span className={`block text-sm ${w.bars ? "font-semibold text-rust" : "text-faded"}`}>{w.means}</span>}
                  </>
                }
              />
              {w.watch === "film edges" && film && (
                <p className="flex flex-wrap items-center gap-2 rounded-xl border-2 border-amber bg-amber-wash p-2">
                  <span className="grow">Film edges, but the paint is said to have {look.protection.kind}. Is it filmed?</span>
                  <Button onClick={() => change({ ...look, protection: { ...look.protection, kind: "film" } })}>Yes, film is on it</Button>
                </p>
              )}
            </li>
          );
        })}
        <li>
          <Tick label="Salt, from road or sea" on={look.salt} onChange={(salt) => change({ ...look, salt })} />
        </li>
      </ul>
    </Box>
  );
}

/** What is filmed of a car that is not filmed all over: the front as it is mostly done, or with the wings and sills. */
const front: Schemas["Zone"][] = ["front", "bonnet", "mirror-left", "mirror-right"];
const films: Record<string, Schemas["Zone"][]> = { none: [], front, half: [...front, "lower-left", "lower-right"] };
const same = (a: string[], b: string[]) => a.length === b.length && a.every((z) => b.includes(z));

function Protection({ sheet: { look, change } }: { sheet: Sheet }) {
  return (
    <div className="grid gap-3">
      <Field label="What is on it">
        <Select
          value={look.protection.kind}
          onChange={(kind) => change({ ...look, protection: { ...look.protection, kind } })}
          options={["unknown", "none", "wax", "sealant", "coating", "film"]}
        />
      </Field>
      <Field label="Age, days">
        <Count
          whole
          max={5000}
          value={look.protection.ageDays}
          onChange={(ageDays) => change({ ...look, protection: { ...look.protection, ageDays } })}
        />
      </Field>
      <Choice
        label="Water on it"
        value={look.protection.water}
        onChange={(water) => change({ ...look, protection: { ...look.protection, water } })}
        options={[
          { value: "not seen", label: "Not seen" },
          { value: "beads", label: "Beads" },
          { value: "flat", label: "Lies flat" },
        ]}
      />
      <Choice
        label="Film on part of it"
        value={Object.keys(films).find((f) => same(films[f] ?? [], look.filmed ?? [])) ?? "other"}
        onChange={(f) => change({ ...look, filmed: films[f] ?? [] })}
        options={[
          { value: "none", label: "None" },
          { value: "front", label: "Front" },
          { value: "half", label: "Front half" },
        ]}
      />
    </div>
  );
}
