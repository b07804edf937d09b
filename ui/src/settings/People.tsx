import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { type UseFormReturn, useWatch } from "react-hook-form";
import { ask, client, type Schemas } from "../api/client";
import { useMay, useMe } from "../api/shop";
import { day, hour } from "../kit/format";
import { Entry, PickField, TextField, useEntry } from "../kit/form";
import { Button, Loading, Panel, Tag, Trouble } from "../kit/kit";
import { Devices } from "./Devices";
import { SignIns } from "./You";
import { keys } from "../api/keys";

type Member = Schemas["StaffMember"];
type Role = Schemas["Role"];
const roles: readonly Role[] = ["owner", "lead", "washer", "trainee", "auditor"];

/** Everybody of the shop and their way in. */
export function People() {
  const staff = useQuery({ queryKey: keys.staff(), queryFn: () => ask(client.GET("/staff")) });
  const queries = useQueryClient();
  const again = () => {
    void queries.invalidateQueries({ queryKey: keys.staff() });
    void queries.invalidateQueries({ queryKey: keys.people() });
  };
  if (staff.isPending) return <Loading what="the people" />;
  if (staff.error) return <Trouble error={staff.error} retry={() => void staff.refetch()} />;
  const { people, devices } = staff.data;
  return (
    <div className="grid items-start gap-4 lg:grid-cols-[minmax(0,1fr)_20rem]">
      <Panel title="People" aside={`${people.filter((p) => p.active).length} at work`}>
        <ul className="grid gap-2">
          {people.map((p) => (
            <li key={p.id} className="rounded-xl border border-line p-3">
              <Person p={p} onSaved={again} />
            </li>
          ))}
        </ul>
      </Panel>
      <div className="grid gap-4">
        <Add onSaved={again} />
        <Devices devices={devices} onSaved={again} />
      </div>
    </div>
  );
}

/** A one-time code, shown once. */
function Code({ code, until, name }: { code: string; until: string; name: string }) {
  return (
    <div role="status" className="mt-2 rounded-xl bg-tide-wash p-3">
      <p className="num text-2xl font-bold">{code}</p>
      <p className="text-sm">
        Give this code to {name}: it opens once, until {day(until)} {hour(until)}, under “I have a one-time code”. It is not shown again.
      </p>
    </div>
  );
}

function Person({ p, onSaved }: { p: Member; onSaved: () => void }) {
  const [open, setOpen] = useState(false);
  const me = useMe().data;
  return (
    <>
      <div className="flex flex-wrap items-center justify-between gap-2">
        <div>
          <b>{p.name}</b> <Tag tone={p.active ? "tide" : "plain"}>{p.active ? p.role : "let go"}</Tag>{" "}
          {p.waiting && <Tag tone="amber">waits for a code</Tag>}
          <span className="block text-sm text-faded">
            signs in as {p.signIn}
            {p.digits && ", has four digits"}
            {p.seenAt ? `, last seen ${day(p.seenAt)} ${hour(p.seenAt)}` : ", not seen yet"}
          </span>
        </div>
        <Button aria-expanded={open} aria-label={`Change ${p.name}`} onClick={() => setOpen(!open)}>
          {open ? "Close" : "Change"}
        </Button>
      </div>
      {open && <Change key={p.version} p={p} own={p.id === me?.id} onSaved={onSaved} />}
    </>
  );
}

function Change({ p, own, onSaved }: { p: Member; own: boolean; onSaved: () => void }) {
  const forgets = useMay()("forget");
  const path = { path: { id: p.id } };
  const of = useEntry({
    start: { name: p.name, signIn: p.signIn, role: p.role, active: p.active },
    save: (values) => ask(client.PUT("/staff/{id}", { params: path, body: { ...values, version: p.version } })),
    said: `${p.name}: saved.`,
    onSaved,
  });
  const code = useMutation({ mutationFn: () => ask(client.POST("/staff/{id}/code", { params: path })), onSuccess: onSaved });
  const forget = useMutation({
    meta: { said: "The name is forgotten." },
    mutationFn: () => ask(client.POST("/staff/{id}/forget", { params: path })),
    onSuccess: onSaved,
  });
  const hire = () => {
    of.form.setValue("active", !p.active);
    void of.submit();
  };
  const more = (
    <>
      {p.active && !own && (
        <Button disabled={code.isPending} onClick={() => code.mutate()}>
          {p.waiting ? "Give another code" : "Reset by a one-time code"}
        </Button>
      )}
      {!own && (
        <Button disabled={of.saving.isPending} onClick={hire}>
          {p.active ? "Let go" : "Have back"}
        </Button>
      )}
      {!p.active && forgets && (
        <Button disabled={forget.isPending} onClick={() => forget.mutate()}>
          Forget the name
        </Button>
      )}
    </>
  );
  return (
    <div className="mt-3 grid gap-3 border-t border-line pt-3">
      <Entry of={of} act="Save" more={more}>
        <Details form={of.form} />
      </Entry>
      {[code.error, forget.error].map((e, i) => e && <Trouble key={i} error={e} />)}
      {code.data && <Code {...code.data} name={p.name} />}
      <SignIns lines={p.signIns} onEnded={onSaved} />
    </div>
  );
}

interface Known {
  name: string;
  signIn: string;
  role: Role;
  active: boolean;
}

function Details({ form }: { form: UseFormReturn<Known> }) {
  const owner = useMe().data?.role === "owner";
  const role = useWatch({ control: form.control, name: "role" });
  return (
    <>
      <TextField form={form} name="name" label="Name" maxLength={80} rules={{ required: "write it" }} />
      <TextField
        form={form}
        name="signIn"
        label="Sign-in name"
        maxLength={40}
        autoCapitalize="none"
        rules={{ required: "write it: small letters, a name that nobody else has" }}
      />
      <PickField form={form} name="role" label="Role" options={roles.filter((r) => owner || r !== "owner" || r === role)} />
    </>
  );
}

function Add({ onSaved }: { onSaved: () => void }) {
  const of = useEntry({
    start: { name: "", signIn: "", role: "washer" as Role, active: true },
    // The code goes with the name that it was made for, whoever's name stands in the field when it comes.
    save: async ({ name, signIn, role }) => ({ ...(await ask(client.POST("/staff", { body: { name, signIn, role } }))), name }),
    onSaved: (_answer, clear) => {
      clear();
      onSaved();
    },
  });
  return (
    <Panel title="Add somebody">
      <Entry of={of} act="Add">
        <Details form={of.form} />
      </Entry>
      {of.saving.data && <Code {...of.saving.data} />}
    </Panel>
  );
}
