import { useState } from "react";
import type { DrillState } from "../core/core";
import { clock, plural, sentence } from "../kit/format";
import { Panel, Tag, Tick } from "../kit/kit";
import { type BoardProps, Load, Move, Sides } from "./board";
import type { Action } from "./useRun";
import { Washing } from "./Washing";

type Mitt = NonNullable<DrillState["mitt"]>;

/** Washing by hand: the trainee draws the strokes, and the core answers every one. */
export function ByHand({ task, state, play, status, undo }: BoardProps) {
  const [mesh, setMesh] = useState(false);
  const drill = task.mitt;
  const now = state.mitt;
  const panel = drill && now && drill.panels[now.panel];
  if (!drill || !now || !panel) return null;
  const bugs = panel.obstacles.some((o) => o.kind === "bugs");
  const turned = mesh && bugs;
  const folds = drill.cloth === "plush towel in four"; // it is folded to its next face, and not rinsed
  const picture = (
    <div className="grid gap-2">
      <div className="flex flex-wrap items-baseline justify-between gap-x-4">
        <h2 className="text-lg font-bold">
          {sentence(panel.label)} <span className="font-normal text-faded">{`${now.panel + 1} of ${drill.panels.length}`}</span>
        </h2>
        {!state.done && <Wet clock={state.clock} now={now} window={drill.window} />}
      </div>
      <Washing
        panel={panel}
        sheet={now.sheets[now.panel]}
        open={play !== undefined}
        stroke={(path, pressing) => play?.({ do: "stroke", path, ...(pressing && { pressing }), ...(turned && { mesh: true }) })}
      />
    </div>
  );
  const moves = status && (
    <>
      {play && bugs && <Tick label="Wash with the mesh side, for bugs" on={mesh} onChange={setMesh} />}
      {play && <Moves play={play} now={now} folds={folds} last={now.panel === drill.panels.length - 1} undo={undo} />}
      {folds && (
        <Panel title="Towel" aside={<Tag>{plural((now.towels ?? 0) + 1, "towel")}</Tag>}>
          <p>{`Face ${(now.folded ?? 0) + 1} of 8 is down, with ${Math.round(now.hand.mitts[0]?.faces[0]?.exposed ?? 0)} mg on it.`}</p>
        </Panel>
      )}
      {!folds && <Faces hand={now.hand} limit={drill.lacquer.limit} />}
    </>
  );
  return <Sides picture={picture} moves={moves} status={status} />;
}

/** How long the suds of the panel in hand stay wet. */
function Wet({ clock: at, now, window }: { clock: number; now: Mitt; window: number }) {
  const since = now.wet[now.panel] ?? -1;
  const left = since < 0 ? window : Math.max(0, window - (at - since));
  return (
    <p className="flex items-baseline gap-3 text-sm">
      <span>
        Clock <b className="num">{clock(at)}</b>
      </span>
      <span className={left < 20 ? "font-bold text-rust" : ""}>
        {now.dried[now.panel] ? "Suds dried" : since < 0 ? "No suds on it yet" : `Suds dry in ${clock(left)}`}
      </span>
    </p>
  );
}

interface MovesProps {
  play: (a: Action) => void;
  now: Mitt;
  folds: boolean;
  last: boolean;
  undo: BoardProps["undo"];
}

function Moves({ play, now, folds, last, undo }: MovesProps) {
  const move = (what: Action["do"], label: string, look: "plain" | "act" = "plain") => (
    <Move key={what} look={look} on={() => play({ do: what })}>
      {label}
    </Move>
  );
  return (
    <div className="grid grid-cols-3 gap-2">
      {now.mishap === "the guard has come up" && move("seat the guard", "Seat guard", "act")}
      {!folds && now.mishap === "the mitt fell on the ground" && move("take the spare", "Take spare", "act")}
      {!folds && move("load", "Load", now.hand.bare ? "act" : "plain")}
      {move("flip", folds ? "Fold" : "Flip")}
      {folds && move("take the spare", "Fresh towel")}
      {!folds && move("rub on the guard", "Rub")}
      {!folds && move("swish", "Swish")}
      {move("look at the mitt", "Look")}
      {move("feel the pile", "Feel")}
      {move("wet the panel", "Wet panel")}
      {move("rinse the panel", folds ? "Dry panel" : "Rinse panel")}
      {!last && move("next panel", "Next panel")}
      {!folds && now.hand.mitt === 0 && move("take the lower mitt", "Lower mitt")}
      {undo}
    </div>
  );
}

/** What the faces of the mitt in hand carry. */
export function Faces({ hand, limit }: { hand: Mitt["hand"]; limit: number }) {
  const held = hand.mitts[hand.mitt];
  return (
    <Panel title={hand.mitt === 0 ? "Mitt" : "Lower mitt"} aside={<Tag>{plural(hand.rinses, "rinse")}</Tag>}>
      <ul className="grid gap-2">
        {held?.faces.map((f, i) => (
          <Load
            key={i}
            name={<span className={i === held.face ? "font-bold" : ""}>{`Face ${i + 1}${i === held.face ? ", down" : ""}`}</span>}
            text={`${Math.round(f.exposed)} mg at the tips`}
            share={f.exposed / limit}
            over={f.exposed > limit}
          />
        ))}
      </ul>
    </Panel>
  );
}
