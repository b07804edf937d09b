import type { Schemas } from "../api/client";

/** What is being done on a booking's vehicle. */
export const doing = (b: Pick<Schemas["BookingCard"], "pulse">) => b.pulse?.hands.map((h) => h.title).join(", ") || "between steps";
