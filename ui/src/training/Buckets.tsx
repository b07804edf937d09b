import { useState } from "react";
import type { Schemas } from "../api/client";
import type { DrillState } from "../core/core";
import { plural, sentence, useQuantities } from "../kit/format";
import { Button, Choice, Panel } from "../kit/kit";
import { type BoardProps, Move, Sides } from "./board";
import { Faces } from "./ByHand";
import type { Action } from "./useRun";

type Pails = NonNullable<DrillState["buckets"]>;
type Pail = Pails["pails"][number];

/** Three buckets made ready, and a wash's worth of emptying the mitt. */
export function Buckets({ task, state, play, status, undo }: BoardProps) {
  const [picked, setPicked] = useState("a");
  const drill = task.buckets;
  const now = state.buckets;
  if (!drill || !now) return null;
  const picture = (
    <div className="grid grid-cols-3 gap-2">
      {now.pails.map((p) => (
        <PailShown key={p.id} pail={p} now={now} full={drill.litres} picked={play && !now.washing ? picked : undefined} pick={setPicked} />
      ))}
    </div>
  );
  const pail = now.pails.find((p) => p.id === picked);
  const moves = status && (
    <>
      {play && pail && !now.washing && <Ready drill={drill} pail={pail} play={play} undo={undo} />}
      {play && now.washing && <Emptying drill={drill} now={now} play={play} undo={undo} />}
      {now.washing && <Faces hand={now.hand} limit={drill.lacquer.limit} />}
    </>
  );
  return <Sides picture={picture} moves={moves} status={status} />;
}

const guardSays: Record<string, string> = {
  none: "no guard",
  seated: "guard seated",
  floating: "guard floats",
  "upside down": "guard upside down",
  jammed: "guard jammed in",
};

/** A bucket cut open: water, suds, guard, and what is written on it. */
function PailShown(of: { pail: Pail; now: Pails; full: number; picked?: string | undefined; pick: (id: string) => void }) {
  const { pail, now, full, picked, pick } = of;
  const { volume } = useQuantities();
  const rinse = now.washing && pail.litres > 0 && pail.product === 0 && pail.label !== "wheels";
  const litres = rinse ? (now.hand.bucket.litres ?? pail.litres) : pail.litres;
  const guard = rinse && !now.hand.bucket.guard && pail.guard === "seated" ? "floating" : pail.guard;
  const dirt = rinse ? now.murky : now.washing && pail.product > 0 ? Math.min(1, now.hand.suds / 120) : 0;
  const says = [
    pail.label ? `for the ${pail.label}` : "no label",
    litres > 0 ? `${volume(litres * 1000)} ${pail.warm ? "warm" : "cold"}` : "empty",
    guardSays[guard],
    ...(pail.product > 0 ? [`${volume(pail.product)} product`] : []),
    ...(dirt > 0.5 ? ["brown"] : []),
  ].join(", ");
  const shown = (
    <>
      <PailDrawing pail={pail} level={Math.min(1, litres / (full * 1.4))} guard={guard} dirt={dirt} />
      <span className="block text-sm leading-snug">
        <b>{sentence(pail.label || `bucket ${pail.id}`)}</b>
        <span className="block text-faded">{says}</span>
      </span>
    </>
  );
  const chosen = picked === pail.id ? "border-tide bg-tide-wash" : "border-line bg-paper";
  const look = `grid content-start rounded-xl border-2 p-2 text-left ${chosen}`;
  if (picked === undefined) return <div className={look}>{shown}</div>;
  return (
    <button type="button" aria-pressed={picked === pail.id} className={look} onClick={() => pick(pail.id)}>
      {shown}
    </button>
  );
}

const shades: Record<string, string> = { white: "var(--paper)", blue: "var(--tide-wash)", black: "var(--rubber)" };

function PailDrawing({ pail, level, guard, dirt }: { pail: Pail; level: number; guard: string; dirt: number }) {
  const top = 88 - 78 * level;
  return (
    <svg viewBox="0 0 100 96" className="mb-1 block w-full" aria-hidden>
      <path d="M8 6 H92 L82 92 H18 Z" fill={shades[pail.colour] ?? "var(--paper)"} stroke="var(--ink)" strokeWidth="2" />
      {level > 0 && (
        <>
          <path
            d={`M${18 - (88 - top) * 0.1} ${top} H${82 + (88 - top) * 0.1} L82 90 H18 Z`}
            fill="var(--tide)"
            fillOpacity="0.3"
            stroke="none"
          />
          <path
            d={`M${18 - (88 - top) * 0.1} ${top} H${82 + (88 - top) * 0.1} L82 90 H18 Z`}
            fill="#6b4a1f"
            fillOpacity={0.75 * dirt}
            stroke="none"
          />
          {pail.suds &&
            [20, 32, 44, 56, 68, 80].map((x, i) => (
              <circle key={x} cx={x} cy={top - (i % 2) * 4} r={6} fill="var(--paper)" stroke="var(--faded)" strokeWidth="0.8" />
            ))}
        </>
      )}
      {guard !== "none" && (
        <g
          stroke="var(--ink)"
          strokeWidth="2.4"
          transform={
            guard === "floating" ? `translate(0 ${top - 70}) rotate(-14 50 78)` : guard === "upside down" ? "rotate(180 50 81)" : ""
          }
        >
          <path d="M22 78 H78" />
          <path d="M30 78 V86 M44 78 V86 M58 78 V86 M72 78 V86" strokeWidth="1.4" />
        </g>
      )}
    </svg>
  );
}

type What = "label" | "water" | "guard" | "product";

/** What is done with the bucket that is picked. */
function Ready({
  drill,
  pail,
  play,
  undo,
}: {
  drill: Schemas["Buckets"];
  pail: Pail;
  play: (a: Action) => void;
  undo: BoardProps["undo"];
}) {
  const [what, setWhat] = useState<What>("label");
  return (
    <Panel title={sentence(pail.label ? `the bucket for the ${pail.label}` : `bucket ${pail.id}`)}>
      <div className="grid gap-3">
        <Choice
          label="What you see to"
          value={what}
          onChange={setWhat}
          options={[
            { value: "label", label: "Label" },
            { value: "water", label: "Water" },
            { value: "guard", label: "Guard" },
            { value: "product", label: "Product" },
          ]}
        />
        {what === "label" && (
          <div className="grid grid-cols-3 gap-2">
            {["wash", "rinse", "wheels"].map((how) => (
              <Move key={how} on={() => play({ do: "label the bucket", on: pail.id, how })}>
                {sentence(how)}
              </Move>
            ))}
          </div>
        )}
        {what === "water" && <Water on={pail.id} play={play} />}
        {what === "guard" && (
          <div className="grid grid-cols-2 gap-2">
            {["tilted and pressed flat", "dropped in", "turned over", "pushed down hard"].map((how) => (
              <Move key={how} on={() => play({ do: "put the guard in", on: pail.id, how })}>
                {sentence(how)}
              </Move>
            ))}
          </div>
        )}
        {what === "product" && <Dose drill={drill} on={pail.id} play={play} />}
        <div className="grid grid-cols-2 gap-2 border-t border-line pt-3">
          {undo}
          <Move look="act" on={() => play({ do: "begin washing" })}>
            Begin washing
          </Move>
        </div>
      </div>
    </Panel>
  );
}

/** A number that is stepped by large buttons. */
function Count({ label, value, step, least, most, set }: CountProps) {
  const by = (d: number) => set(Math.min(most, Math.max(least, Math.round((value + d) * 100) / 100)));
  return (
    <div className="flex items-center gap-2" role="group" aria-label={label}>
      <Button className="min-h-14! min-w-14!" aria-label={`Less ${label}`} onClick={() => by(-step)}>
        −
      </Button>
      <output className="num min-w-24 text-center text-lg font-bold">{`${value} ${label}`}</output>
      <Button className="min-h-14! min-w-14!" aria-label={`More ${label}`} onClick={() => by(step)}>
        +
      </Button>
    </div>
  );
}

interface CountProps {
  label: string;
  value: number;
  step: number;
  least: number;
  most: number;
  set: (n: number) => void;
}

function Water({ on, play }: { on: string; play: (a: Action) => void }) {
  const [litres, setLitres] = useState(4);
  const [how, setHow] = useState<"cold" | "warm">("cold");
  return (
    <div className="grid gap-2">
      <Choice
        label="How warm"
        value={how}
        onChange={setHow}
        options={[
          { value: "cold", label: "Cold" },
          { value: "warm", label: "Warm" },
        ]}
      />
      <Count label="litres" value={litres} step={1} least={1} most={20} set={setLitres} />
      <div className="grid grid-cols-2 gap-2">
        <Move on={() => play({ do: "fill with water", on, how, amount: litres })}>Fill by hose</Move>
        <Move on={() => play({ do: "jet for suds", on, how, amount: litres })}>Fill by jet</Move>
      </div>
    </div>
  );
}

function Dose({ drill, on, play }: { drill: Schemas["Buckets"]; on: string; play: (a: Action) => void }) {
  const { volume } = useQuantities();
  const [name, setName] = useState(drill.tools[0]?.name ?? "");
  const [count, setCount] = useState(1);
  const tool = drill.tools.find((t) => t.name === name);
  return (
    <div className="grid gap-2">
      <p>
        {sentence(drill.product)}. Its label: <b>{drill.label}</b>
        {drill.cold && ", cold water"}.
      </p>
      <Choice
        label="Measured with"
        value={name}
        onChange={(v) => (setName(v), setCount(1))}
        options={[
          ...drill.tools.map((t) => ({ value: t.name, label: `${sentence(t.name)}, ${volume(t.ml)}` })),
          { value: "by eye", label: "By eye" },
        ]}
      />
      {tool && <Count label="of them" value={count} step={tool.step} least={tool.step} most={40} set={setCount} />}
      <Move on={() => play({ do: "dose", on, how: name, amount: tool ? count : 1 })}>Pour it in</Move>
    </div>
  );
}

/** After each mittful: rinse it, look, load it again. */
function Emptying(of: { drill: Schemas["Buckets"]; now: Pails; play: (a: Action) => void; undo: BoardProps["undo"] }) {
  const { now, play, undo } = of;
  const [how, setHow] = useState<"outside" | "inside">("outside");
  const left = now.rounds - now.round;
  const move = (what: Action["do"], label: string, look: "plain" | "act" = "plain", more: Partial<Action> = {}) => (
    <Move key={what} look={look} on={() => play({ do: what, ...more })}>
      {label}
    </Move>
  );
  return (
    <div className="grid gap-3">
      <p className="font-semibold">{left > 0 ? `${plural(left, "mittful")} to wash` : "The car is washed"}</p>
      <Choice
        label="Wring it"
        value={how}
        onChange={setHow}
        options={[
          { value: "outside", label: "Outside the bucket" },
          { value: "inside", label: "Inside" },
        ]}
      />
      <div className="grid grid-cols-3 gap-2">
        {left > 0 && move("wash on", "Wash on", "act")}
        {move("rub on the guard", "Rub", "plain", { how })}
        {move("swish", "Swish", "plain", { how })}
        {move("look at the mitt", "Look")}
        {move("feel the pile", "Feel")}
        {move("load", "Load")}
        {move("seat the guard", "Seat guard")}
        {move("take the spare", "Take spare")}
        {move("change the water", "Change water")}
        {move("make the wash bucket anew", "New wash mix")}
        {left === 0 && move("set the buckets side by side", "Side by side", "act")}
        {undo}
      </div>
    </div>
  );
}
