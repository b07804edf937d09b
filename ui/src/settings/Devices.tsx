import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client, type Schemas } from "../api/client";
import { day, hour } from "../kit/format";
import { Button, Field, inputLook, Panel, Trouble } from "../kit/kit";

/** What is signed in by itself: tablets that people share, and sensors that post readings. */
export function Devices({ devices, onSaved }: { devices: Schemas["DeviceLine"][]; onSaved: () => void }) {
  const [name, setName] = useState("");
  const clear = useMutation({
    meta: { said: "It takes digits again." },
    mutationFn: (id: string) => ask(client.POST("/devices/{id}/clear", { params: { path: { id } } })),
  });
  const renew = useMutation({
    mutationFn: (d: Schemas["DeviceLine"]) =>
      ask(client.POST("/devices/{id}/renew", { params: { path: { id: d.id } } })).then((made) => ({ ...made, kind: d.kind })),
  });
  const add = useMutation({
    mutationFn: (kind: Schemas["DeviceKind"]) => ask(client.POST("/devices", { body: { kind, name } })),
    onSuccess: () => {
      renew.reset();
      setName("");
      onSaved();
    },
  });
  const made = renew.data ?? (add.data && { ...add.data, kind: add.variables });
  const end = useMutation({
    meta: { said: "Device signed out." },
    mutationFn: (id: string) => ask(client.DELETE("/devices/{id}", { params: { path: { id } } })),
    onSuccess: onSaved,
  });
  return (
    <Panel title="Tablets, sensors and calendars">
      <ul className="mb-3 grid gap-2">
        {devices.map((d) => (
          <li key={d.id} className="flex flex-wrap items-center justify-between gap-2 border-b border-line pb-2">
            <span>
              <b>{d.name}</b>, {d.kind}
              <span className="block text-sm text-faded">{d.seenAt ? `last used ${day(d.seenAt)} ${hour(d.seenAt)}` : "not used yet"}</span>
            </span>
            <span className="flex flex-wrap gap-2">
              {d.kind === "tablet" && (
                <Button disabled={clear.isPending} onClick={() => clear.mutate(d.id)} aria-label={`Clear wrong digits of ${d.name}`}>
                  Clear wrong digits
                </Button>
              )}
              {d.kind !== "tablet" && (
                <Button disabled={renew.isPending} onClick={() => renew.mutate(d)} aria-label={`Renew the secret of ${d.name}`}>
                  Renew
                </Button>
              )}
              <Button disabled={end.isPending} onClick={() => end.mutate(d.id)} aria-label={`End ${d.name}`}>
                End
              </Button>
            </span>
          </li>
        ))}
      </ul>
      <div className="grid gap-3">
        <Field label="Name of the tablet, sensor or calendar">
          <input className={inputLook} value={name} maxLength={60} onChange={(e) => setName(e.target.value)} />
        </Field>
        <Button disabled={add.isPending || !name.trim()} onClick={() => add.mutate("tablet")}>
          Make this browser a shared tablet
        </Button>
        <Button disabled={add.isPending || !name.trim()} onClick={() => add.mutate("sensor")}>
          Let a sensor post readings
        </Button>
        <Button disabled={add.isPending || !name.trim()} onClick={() => add.mutate("calendar")}>
          Let a calendar follow the bookings
        </Button>
        {[add.error, end.error, clear.error, renew.error].map((e, i) => e && <Trouble key={i} error={e} />)}
        {made &&
          (made.token ? (
            <div role="status" className="rounded-xl bg-tide-wash p-3">
              <p className="num text-sm break-all">
                {made.kind === "calendar" ? `${window.location.origin}/api/calendar/${made.token}.ics` : made.token}
              </p>
              <p className="text-sm">
                {made.kind === "calendar"
                  ? "The calendar’s secret address: whoever has it sees plates and times. It is not shown again; Renew makes another."
                  : "The sensor’s token. It is not shown again; Renew makes another."}
              </p>
            </div>
          ) : (
            <p role="status">This browser is a shared tablet now. Sign out, and people sign in by four digits.</p>
          ))}
      </div>
    </Panel>
  );
}
