import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client, type Schemas } from "../api/client";
import { keys } from "../api/keys";
import { useDebounced } from "../kit/form";
import { Button, Field, inputLook } from "../kit/kit";

type Vehicle = Schemas["VehicleCard"];

/** How many are listed: who types on sees others. */
const shown = 6;

/** Finds a vehicle by typing part of its plate or name; one the shop does not know is entered anew. */
export function VehiclePicker({ onPick, onNew }: { onPick: (v: Vehicle) => void; onNew: (plate: string) => void }) {
  const [find, setFind] = useState("");
  const still = useDebounced(find.trim());
  const found = useQuery({
    queryKey: keys.vehicles(still),
    queryFn: () => ask(client.GET("/vehicles", { params: { query: { find: still, most: shown } } })),
    placeholderData: (last) => last,
  });
  return (
    <div className="grid gap-2">
      <Field label="Vehicle" hint="Type part of the plate or the name.">
        <input
          className={inputLook}
          type="search"
          value={find}
          maxLength={80}
          onChange={(e) => setFind(e.target.value)}
          autoComplete="off"
        />
      </Field>
      <ul aria-label="Vehicles found" className="grid gap-1.5">
        {found.data?.map((v) => (
          <li key={v.id}>
            <Button className="w-full justify-start! text-left" onClick={() => onPick(v)}>
              <span className="num">{v.plate}</span> <span className="truncate font-normal">{v.label}</span>
            </Button>
          </li>
        ))}
      </ul>
      {found.data?.length === 0 && <p className="text-faded">No vehicle matches that plate or name.</p>}
      <Button className="justify-self-start" onClick={() => onNew(find.trim())}>
        A new vehicle
      </Button>
    </div>
  );
}
