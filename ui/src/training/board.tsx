import type { ReactNode } from "react";
import type { Schemas } from "../api/client";
import type { DrillState } from "../core/core";
import { Button } from "../kit/kit";
import type { Action } from "./useRun";

/** What a kind of drill shows, and what is done there. Without play it is a picture only. */
export interface BoardProps {
  task: Schemas["Task"];
  state: DrillState;
  play?: ((action: Action) => void) | undefined;
  /** What the last action did, and what takes it back: beside the picture, within reach. */
  status?: ReactNode;
  undo?: ReactNode;
}

/** A picture with what was done under it, and the moves beside it; on a phone under it. */
export function Sides({ picture, moves, status }: { picture: ReactNode; moves?: ReactNode; status?: ReactNode }) {
  if (!moves && !status) return picture;
  return (
    <div className="grid gap-3 lg:grid-cols-[minmax(0,1fr)_22rem]">
      <div className="grid min-w-0 content-start gap-2">
        {picture}
        {status}
      </div>
      <div className="grid content-start gap-3">{moves}</div>
    </div>
  );
}

/** A move, large enough for a wet glove. */
export function Move({ look = "plain", on, children }: { look?: "plain" | "act"; on: () => void; children: ReactNode }) {
  return (
    <Button look={look} className="min-h-14! px-2!" onClick={on}>
      {children}
    </Button>
  );
}

/** How full something is, told by length and number. */
export function Load({ name, text, share, over }: { name: ReactNode; text: string; share: number; over?: boolean }) {
  return (
    <li className="grid gap-0.5">
      <span className="flex justify-between gap-2 text-sm">
        <span>{name}</span>
        <span className="num">{text}</span>
      </span>
      <span className="h-3 overflow-hidden rounded-full border border-line">
        <span className={`block h-full ${over ? "bg-rust" : "bg-tide"}`} style={{ width: `${Math.min(100, 100 * share)}%` }} />
      </span>
    </li>
  );
}
