import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type Schemas, ask, client } from "../api/client";
import { keys, stale } from "../api/keys";
import { momentOf } from "../kit/format";

export type Card = Schemas["BookingCard"];
export type Vehicle = Schemas["VehicleCard"];

/** What a booking's form holds; dates and times are of the shop's own clock. */
export interface Values {
  plate: string;
  label: string;
  spec: Schemas["Vehicle"];
  date: string;
  arrives: string;
  ready: string;
  /** By its id. */
  service: string;
  placeId: string;
  washerId: string;
}

/** At which field the server's refusals are said. */
export const fields = { promisedAt: "ready", arrivesAt: "arrives", washerId: "washerId", plate: "plate", label: "label" } as const;

export const blank: Schemas["Vehicle"] = {
  body: "hatch",
  shade: "mid",
  finish: "ordinary",
  wheels: { inches: 17, spokes: "plain", bare: false },
  electric: false,
};

/** A booking as the server takes it; undefined while a day or an hour is missing, or it is promised before it comes. */
export function bodyOf(v: Values, vehicleId: string, places: Schemas["Place"][], usual: string) {
  const place = places.find((p) => p.id === v.placeId) ?? places[0];
  if (!place || !v.date || !v.arrives || v.ready <= v.arrives) return undefined;
  return {
    vehicleId,
    arrivesAt: momentOf(v.date, v.arrives).toISOString(),
    promisedAt: momentOf(v.date, v.ready).toISOString(),
    service: v.service || usual,
    place,
    ...(v.washerId && { washerId: v.washerId }),
  };
}
export type Body = NonNullable<ReturnType<typeof bodyOf>>;

/** Whether it would fit, and where it would. */
export function useFit(body: Body | undefined, bookingId: string | undefined) {
  return useQuery({
    queryKey: keys.fit(body, bookingId),
    queryFn: () => ask(client.POST("/day/fit", { body: { ...(body as Body), ...(bookingId && { bookingId }) } })),
    enabled: body !== undefined,
    placeholderData: (last) => last,
    retry: false,
    gcTime: 10_000,
  });
}

/** Saves a booking: of a vehicle that is new, the vehicle first. */
export function useSave(change: Card | undefined, done: (b: Card) => void) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async ({ body, fresh }: { body: Body; fresh: Pick<Values, "plate" | "label" | "spec"> | undefined }) => {
      if (change)
        return ask(client.PUT("/bookings/{id}", { params: { path: { id: change.id } }, body: { ...body, version: change.version } }));
      const vehicleId = fresh ? (await ask(client.POST("/vehicles", { body: fresh }))).id : body.vehicleId;
      return ask(client.POST("/bookings", { body: { ...body, vehicleId } }));
    },
    onSuccess: (b) => {
      stale(queries, keys.yard(), keys.day(), keys.vehicles(), keys.vehicle(), keys.yours(), keys.slots(), keys.plan());
      done(b);
    },
  });
}
