import type { Schemas } from "../api/client";
import { sentence } from "./format";

/** Which part of a round a step is for: "Section 2 of 4: left side". */
export const partWords = (part: Schemas["RoundPart"]) => `${sentence(part.one)} ${part.n} of ${part.of}: ${part.label}`;
