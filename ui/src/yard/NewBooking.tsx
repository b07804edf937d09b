import { clock } from "../offline/queue";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { type FormEvent, useState } from "react";
import { type Schemas, ask, client, Problem } from "../api/client";
import { usePeople, useSettings, useWords } from "../api/shop";
import { Button, Choice, Field, inputLook, Select, Tick, Trouble } from "../kit/kit";

const blank: Schemas["Vehicle"] = {
  body: "hatch",
  shade: "mid",
  finish: "ordinary",
  wheels: { inches: 17, spokes: "plain", bare: false },
  electric: false,
};

/** How many vehicles are listed to choose from; past that one looks for a plate or a name. */
const page = 50;

/** Books a wash: a vehicle the shop knows or a new one, where, when, who. */
export function NewBooking() {
  const [open, setOpen] = useState(false);
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Trigger asChild>
        <Button look="act">Book a wash</Button>
      </Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 bg-black/40" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-0 right-0 h-dvh w-[26rem] max-w-full overflow-auto border-l border-line bg-paper p-5"
        >
          <Dialog.Title className="mb-3 text-lg font-bold">Book a wash</Dialog.Title>
          <BookingForm onDone={() => setOpen(false)} />
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

export function BookingForm({ onDone, act = "Book" }: { onDone: (booking: Schemas["BookingCard"]) => void; act?: string }) {
  const queries = useQueryClient();
  const [find, setFind] = useState("");
  const vehicles = useQuery({
    queryKey: ["vehicles", find],
    queryFn: () => ask(client.GET("/vehicles", { params: { query: { find, most: page } } })),
    placeholderData: (last) => last,
  });
  const people = usePeople();
  const bodies = useWords().data?.bodies ?? [];
  const [vehicleId, setVehicleId] = useState("new");
  const [plate, setPlate] = useState("");
  const [label, setLabel] = useState("");
  const [spec, setSpec] = useState(blank);
  const settings = useSettings().data?.settings;
  const places = settings?.places ?? [];
  const priced = (of: Schemas["Service"]) => {
    const price = settings?.prices?.find((p) => p.service === of);
    return price ? `, ${settings?.currency}${(price.amount / 100).toFixed(2)}` : "";
  };
  const [placeId, setPlaceId] = useState("");
  const place = places.find((x) => x.id === placeId) ?? places[0];
  const [service, setService] = useState<Schemas["Service"]>("basic");
  const [inMinutes, setInMinutes] = useState(0);
  const [there, setThere] = useState(90);
  const [washerId, setWasherId] = useState("");
  const known = vehicles.data ?? [];
  const save = useMutation({
    mutationFn: async () => {
      if (!place) throw new Problem(0, "The shop's places are not here yet.");
      let id = vehicleId;
      if (id === "new") {
        id = (await ask(client.POST("/vehicles", { body: { plate: plate.trim(), label: label.trim(), spec } }))).id;
        setVehicleId(id); // a second try books the vehicle that is there now
        void queries.invalidateQueries({ queryKey: ["vehicles"] });
      }
      const arrives = new Date(clock.now() + inMinutes * 60_000);
      return ask(
        client.POST("/bookings", {
          body: {
            vehicleId: id,
            arrivesAt: arrives.toISOString(),
            promisedAt: new Date(arrives.getTime() + there * 60_000).toISOString(),
            service,
            place,
            ...(washerId ? { washerId } : {}),
          },
        }),
      );
    },
    onSuccess: (booking) => {
      void queries.invalidateQueries({ queryKey: ["yard"] });
      void queries.invalidateQueries({ queryKey: ["vehicles"] });
      onDone(booking);
    },
  });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate();
  };
  return (
    <form onSubmit={submit} className="grid gap-3">
      {(known.length >= page || find !== "") && (
        <Field label="Find a plate or a name">
          <input className={inputLook} value={find} maxLength={80} onChange={(e) => setFind(e.target.value)} />
        </Field>
      )}
      <Field label="Vehicle">
        <Select
          value={vehicleId}
          onChange={setVehicleId}
          options={[{ value: "new", label: "a new one" }, ...known.map((v) => ({ value: v.id, label: `${v.label}, ${v.plate}` }))]}
        />
      </Field>
      {vehicleId === "new" && (
        <>
          <Field label="Plate">
            <input className={inputLook} value={plate} onChange={(e) => setPlate(e.target.value)} maxLength={20} required />
          </Field>
          <Field label="What it is">
            <input
              className={inputLook}
              value={label}
              onChange={(e) => setLabel(e.target.value)}
              maxLength={80}
              required
              placeholder="Harbour office estate"
            />
          </Field>
          <div className="grid grid-cols-2 gap-3">
            <Field label="Body">
              <Select
                value={spec.body}
                onChange={(body) => setSpec({ ...spec, body })}
                options={bodies.map((b) => ({ value: b.body, label: b.label }))}
              />
            </Field>
            <Field label="Shade">
              <Select value={spec.shade} onChange={(shade) => setSpec({ ...spec, shade })} options={["white", "silver", "mid", "dark"]} />
            </Field>
            <Field label="Finish">
              <Select
                value={spec.finish}
                onChange={(finish) => setSpec({ ...spec, finish })}
                options={["ordinary", "soft", "hard", "satin"]}
              />
            </Field>
            <Field label="Wheels, inches">
              <input
                className={inputLook}
                type="number"
                min={12}
                max={24}
                value={spec.wheels.inches}
                onChange={(e) => setSpec({ ...spec, wheels: { ...spec.wheels, inches: Number(e.target.value) } })}
              />
            </Field>
            <Field label="Spokes">
              <Select
                value={spec.wheels.spokes}
                onChange={(spokes) => setSpec({ ...spec, wheels: { ...spec.wheels, spokes } })}
                options={["open", "plain", "many"]}
              />
            </Field>
            <Tick label="Electric" on={spec.electric} onChange={(on) => setSpec({ ...spec, electric: on })} />
          </div>
        </>
      )}
      <Choice
        label="Place"
        value={place?.id ?? ""}
        onChange={setPlaceId}
        options={places.map((x) => ({ value: x.id ?? x.name, label: x.name }))}
      />
      <Choice
        label="Service"
        value={service}
        onChange={setService}
        options={[
          { value: "basic", label: `Basic${priced("basic")}` },
          { value: "signature", label: `Signature${priced("signature")}` },
        ]}
      />
      <div className="grid grid-cols-2 gap-3">
        <Field label="Arrives in, minutes">
          <input
            className={inputLook}
            type="number"
            min={0}
            max={600}
            value={inMinutes}
            onChange={(e) => setInMinutes(Number(e.target.value))}
          />
        </Field>
        <Field label="Promised after, minutes">
          <input className={inputLook} type="number" min={5} max={600} value={there} onChange={(e) => setThere(Number(e.target.value))} />
        </Field>
      </div>
      <Field label="Who">
        <Select
          value={washerId}
          onChange={setWasherId}
          options={[
            { value: "", label: "nobody yet" },
            ...(people.data ?? []).filter((x) => x.role !== "auditor").map((x) => ({ value: x.id, label: `${x.name}, ${x.role}` })),
          ]}
        />
      </Field>
      {save.error && <Trouble error={save.error} />}
      <Button look="act" type="submit" disabled={save.isPending} className="min-h-hit">
        {act}
      </Button>
    </form>
  );
}
