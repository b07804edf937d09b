import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { ask, client, type Schemas } from "../api/client";
import { useMay, useMe } from "../api/shop";
import { day, hour } from "../kit/format";
import { Button, Field, inputLook, Loading, Panel, Select, Tag, Trouble } from "../kit/kit";
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
  const [name, setName] = useState(p.name);
  const [signIn, setSignIn] = useState(p.signIn);
  const [role, setRole] = useState(p.role);
  const forgets = useMay()("forget");
  const path = { path: { id: p.id } };
  const save = useMutation({
    meta: { said: "Saved." },
    mutationFn: (active: boolean) =>
      ask(client.PUT("/staff/{id}", { params: path, body: { name, signIn, role, active, version: p.version } })),
    onSuccess: onSaved,
  });
  const code = useMutation({ mutationFn: () => ask(client.POST("/staff/{id}/code", { params: path })), onSuccess: onSaved });
  const forget = useMutation({
    meta: { said: "Signed out everywhere." },
    mutationFn: () => ask(client.POST("/staff/{id}/forget", { params: path })),
    onSuccess: onSaved,
  });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate(p.active);
  };
  return (
    <form onSubmit={submit} className="mt-3 grid gap-3 border-t border-line pt-3">
      <Details name={name} setName={setName} signIn={signIn} setSignIn={setSignIn} role={role} setRole={setRole} />
      <div className="flex flex-wrap gap-2">
        <Button look="act" type="submit" disabled={save.isPending}>
          Save
        </Button>
        {p.active && !own && (
          <Button disabled={code.isPending} onClick={() => code.mutate()}>
            {p.waiting ? "Give another code" : "Reset by a one-time code"}
          </Button>
        )}
        {!own && (
          <Button disabled={save.isPending} onClick={() => save.mutate(!p.active)}>
            {p.active ? "Let go" : "Have back"}
          </Button>
        )}
        {!p.active && forgets && (
          <Button disabled={forget.isPending} onClick={() => forget.mutate()}>
            Forget the name
          </Button>
        )}
      </div>
      {[save.error, code.error, forget.error].map((e, i) => e && <Trouble key={i} error={e} />)}
      {save.isSuccess && <p role="status">Saved.</p>}
      {code.data && <Code {...code.data} name={p.name} />}
      <SignIns lines={p.signIns} onEnded={onSaved} />
    </form>
  );
}

function Details({
  name,
  setName,
  signIn,
  setSignIn,
  role,
  setRole,
}: {
  name: string;
  setName: (v: string) => void;
  signIn: string;
  setSignIn: (v: string) => void;
  role: Role;
  setRole: (v: Role) => void;
}) {
  const owner = useMe().data?.role === "owner";
  return (
    <>
      <Field label="Name">
        <input className={inputLook} value={name} maxLength={80} required onChange={(e) => setName(e.target.value)} />
      </Field>
      <Field label="Sign-in name">
        <input
          className={inputLook}
          value={signIn}
          maxLength={40}
          required
          autoCapitalize="none"
          onChange={(e) => setSignIn(e.target.value)}
        />
      </Field>
      <Field label="Role">
        <Select value={role} onChange={setRole} options={roles.filter((r) => owner || r !== "owner" || r === role)} />
      </Field>
    </>
  );
}

function Add({ onSaved }: { onSaved: () => void }) {
  const [name, setName] = useState("");
  const [signIn, setSignIn] = useState("");
  const [role, setRole] = useState<Role>("washer");
  const [last, setLast] = useState("");
  const add = useMutation({
    mutationFn: () => ask(client.POST("/staff", { body: { name, signIn, role } })),
    onSuccess: () => {
      setLast(name);
      setName("");
      setSignIn("");
      onSaved();
    },
  });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    add.mutate();
  };
  return (
    <Panel title="Add somebody">
      <form onSubmit={submit} className="grid gap-3">
        <Details name={name} setName={setName} signIn={signIn} setSignIn={setSignIn} role={role} setRole={setRole} />
        {add.error && <Trouble error={add.error} />}
        <Button look="act" type="submit" disabled={add.isPending} className="justify-self-start">
          Add
        </Button>
        {add.data && <Code {...add.data} name={last} />}
      </form>
    </Panel>
  );
}
