import { useState } from "react";
import type { Schemas } from "../api/client";
import { Car } from "../car/Car";
import type { Zone } from "../car/shape";
import type { DrillState } from "../core/core";
import { clock, plural, sentence } from "../kit/format";
import { Choice, Panel, Tag } from "../kit/kit";
import { type BoardProps, Load, Move, Sides } from "./board";
import type { Action } from "./useRun";

type Wet = NonNullable<DrillState["drying"]>;

const ways = [
  { value: "lay and draw", label: "Draw" },
  { value: "lay and draw, leave a wet margin", label: "Margin" },
  { value: "pat", label: "Pat" },
  { value: "folded, straight", label: "Fold" },
  { value: "rub", label: "Rub" },
  { value: "its own towel", label: "Own towel" },
] as const;

/** A wet car, a clock and the weather: the parts are tapped with what is in hand. */
export function Towels({ task, state, play, status, undo }: BoardProps) {
  const [how, setHow] = useState<string>("lay and draw");
  const drill = task.drying;
  const now = state.drying;
  if (!drill || !now) return null;
  const act = (on: string) => play?.(how === "blow" ? { do: "blow", on } : { do: "dry", on, how });
  const picture = <WetCar drill={drill} now={now} at={state.clock} act={play && act} />;
  const moves = status && (
    <>
      {play && <Moves drill={drill} now={now} how={how} setHow={setHow} play={play} act={act} undo={undo} />}
      <InHand now={now} />
    </>
  );
  return <Sides picture={picture} moves={moves} status={status} />;
}

function WetCar({ drill, now, at, act }: { drill: Schemas["Drying"]; now: Wet; at: number; act: ((on: string) => void) | undefined }) {
  const zones = drill.parts.filter((p) => p.id !== "wheels");
  const index = (zone: string) => drill.parts.findIndex((p) => p.id === zone);
  const marks: Partial<Record<Zone, string>> = {};
  for (const p of zones) marks[p.id as Zone] = String(Math.round(now.grams[index(p.id)] ?? 0));
  const beside = drill.parts.find((p) => p.unwashed);
  return (
    <div className="grid gap-1">
      <p className="flex flex-wrap justify-between gap-x-4 text-sm">
        <span>
          Clock <b className="num">{clock(at)}</b>, water in g/m²
        </span>
        {beside && <span>Beside the {beside.label} it is not washed yet</span>}
      </p>
      <div className="mx-auto w-3/5 sm:w-full">
        <Car
          body={drill.body}
          marks={marks}
          lit={zones.map((p) => p.id as Zone)}
          done={zones.filter((p) => now.dried[index(p.id)]).map((p) => p.id as Zone)}
          describe={(zone) => {
            const i = index(zone);
            const p = drill.parts[i];
            return p ? `${p.label}, ${Math.round(now.grams[i] ?? 0)} g/m²${now.dried[i] ? ", dried" : ""}` : zone;
          }}
          {...(act && { onPick: (zone: Zone) => index(zone) >= 0 && act(zone) })}
        />
      </div>
    </div>
  );
}

interface MovesProps {
  drill: Schemas["Drying"];
  now: Wet;
  how: string;
  setHow: (how: string) => void;
  play: (a: Action) => void;
  act: (on: string) => void;
  undo: BoardProps["undo"];
}

function Moves({ drill, now, how, setHow, play, act, undo }: MovesProps) {
  const move = (what: Action["do"], label: string, look: "plain" | "act" = "plain", more: Partial<Action> = {}) => (
    <Move key={label} look={look} on={() => play({ do: what, ...more })}>
      {label}
    </Move>
  );
  const open = drill.parts.some((_, i) => !now.dried[i]);
  return (
    <div className="grid gap-3">
      <Choice
        label="In your hand, then tap a part"
        value={how}
        onChange={setHow}
        options={[...ways, ...(drill.blower ? [{ value: "blow", label: "Blower" }] : [])]}
      />
      <div className="grid grid-cols-3 gap-2">
        {drill.hose && move("sheet with the open hose", "Sheet off")}
        {move("damp the towel", "Damp towel")}
        {move("wring", "Wring")}
        {move("take the next towel", "Next towel")}
        {drill.parts.some((p) => p.id === "wheels") && <Move on={() => act("wheels")}>The wheels</Move>}
        {move("wait", "Wait 1 min", "plain", { amount: 60 })}
        {!open && move("look again", "Look again")}
        {!open && move("the car is dry", "It is dry", "act")}
        {undo}
      </div>
      {how === "blow" && (
        <div className="grid gap-1">
          <p className="font-semibold">Or blow out what hides</p>
          <div className="flex flex-wrap gap-1.5">
            {drill.hides.map((h, i) => (
              <Move key={h.id} on={() => play({ do: "blow", on: h.id })}>
                {`${sentence(h.label)}, ${Math.round(now.hidden[i] ?? 0)} ml`}
              </Move>
            ))}
          </div>
        </div>
      )}
    </div>
  );
}

function InHand({ now }: { now: Wet }) {
  return (
    <Panel title="Towels" aside={<Tag>{now.damp ? "damp" : "dry"}</Tag>}>
      <ul className="grid gap-2">
        {now.towels.map((t, i) => (
          <Load
            key={i}
            name={<span className={i === now.towel ? "font-bold" : ""}>{`Towel ${i + 1}${i === now.towel ? ", in hand" : ""}`}</span>}
            text={`${Math.round(t.load)} of ${t.holds} g of water${t.grit > 0 ? ", with grit" : ""}`}
            share={t.load / t.holds}
            over={t.load > 0.8 * t.holds || t.grit > 0}
          />
        ))}
      </ul>
      <p className="mt-2 text-sm text-faded">{plural(now.dried.filter(Boolean).length, "part")} dried.</p>
    </Panel>
  );
}
