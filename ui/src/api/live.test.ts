import { expect, it } from "vitest";
import type { Schemas } from "./client";
import { beat } from "./live";

type Card = Schemas["BookingCard"];
const card = (id: string, pulse?: Partial<Schemas["Pulse"]>) =>
  ({ id, washId: id, promisedAt: "2026-03-09T12:00:00Z", progress: 0, lateBy: 0, pulse }) as Card;
const yard = (...bookings: Card[]) => ({ bookings }) as Schemas["Yard"];
const pulse = { taps: 9, hands: [], wet: [], asks: 0, open: [], left: 30, share: 0.5 };
const now = Date.parse("2026-03-09T11:45:00Z");

it("puts a pulse into the yard with what follows from it", () => {
  const next = beat(yard(card("a", {}), card("b", {})), "a", pulse, now);
  expect(next?.bookings[0]).toMatchObject({ progress: 0.5, lateBy: 15, pulse });
  expect(next?.bookings[1]?.lateBy).toBe(0);
});

it("asks for the yard anew when the wash is not in it, or is finished, or is taken up again", () => {
  expect(beat(yard(card("a", {})), "z", pulse, now)).toBeUndefined();
  expect(beat(yard(card("a", {})), "a", { ...pulse, finished: "2026-03-09T11:44:00Z" }, now)).toBeUndefined();
  expect(beat(yard(card("a", { finished: "2026-03-09T11:44:00Z" })), "a", pulse, now)).toBeUndefined();
});
