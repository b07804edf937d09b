import type { ComponentType } from "react";
import type { Schemas } from "../api/client";
import type { BoardProps } from "./board";
import { Buckets } from "./Buckets";
import { ByHand } from "./ByHand";
import { Dwells } from "./Dwells";
import { Towels } from "./Towels";

/** Every kind of drill: what it is called, what is said before the first move, and what it is played on. */
export const boards: Record<Schemas["Task"]["kind"], { name: string; begin: string; Board: ComponentType<BoardProps> }> = {
  washing: {
    name: "By hand",
    begin: "Load the mitt, or take the towel as it is; then draw straight strokes over the panel.",
    Board: ByHand,
  },
  buckets: { name: "Buckets", begin: "Tap a bucket, say what it is for, and make the buckets ready.", Board: Buckets },
  drying: { name: "Drying", begin: "Choose what is in your hand, then tap a part of the car.", Board: Towels },
  dwells: { name: "Dwells", begin: "Put the first product on. From then on the clock runs.", Board: Dwells },
};
