import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { ask, client, type Schemas } from "../api/client";
import { become, useMe } from "../api/shop";
import { day, hour } from "../kit/format";
import { Button, Field, inputLook, Loading, Panel, Tag, Trouble } from "../kit/kit";
import { keys } from "../api/keys";

/** One's own way in: password, four digits, where one is signed in. */
export function You() {
  const me = useMe().data;
  const queries = useQueryClient();
  const leave = useMutation({ mutationFn: () => ask(client.DELETE("/session")), onSuccess: () => become(queries, null) });
  return (
    <div className="grid items-start gap-4 lg:grid-cols-2">
      <Panel title={me ? `${me.name}, ${me.role}` : "You"}>
        <Button onClick={() => leave.mutate()} disabled={leave.isPending} className="min-h-hit">
          Sign out
        </Button>
        {leave.error && <Trouble error={leave.error} />}
        <OwnSignIns />
      </Panel>
      <div className="grid gap-4">
        <OwnPassword />
        <OwnDigits />
      </div>
    </div>
  );
}

function OwnSignIns() {
  const own = useQuery({ queryKey: keys.signIns(), queryFn: () => ask(client.GET("/sign-ins")) });
  const queries = useQueryClient();
  if (own.isPending) return <Loading what="your sign-ins" />;
  if (own.error) return <Trouble error={own.error} retry={() => void own.refetch()} />;
  return <SignIns lines={own.data} onEnded={() => void queries.invalidateQueries({ queryKey: keys.signIns() })} />;
}

/** Where somebody is signed in, each to be ended. */
export function SignIns({ lines, onEnded }: { lines: Schemas["SignInLine"][]; onEnded: () => void }) {
  const end = useMutation({
    meta: { said: "Signed out there." },
    mutationFn: (id: string) => ask(client.DELETE("/sign-ins/{id}", { params: { path: { id } } })),
    onSuccess: onEnded,
  });
  if (lines.length === 0) return null;
  return (
    <>
      <h3 className="mt-4 mb-1 font-semibold">Signed in on</h3>
      <ul className="grid gap-2">
        {lines.map((l) => (
          <li key={l.id} className="flex flex-wrap items-center justify-between gap-2 border-b border-line pb-2">
            <span>
              {l.on} {l.here && <Tag tone="tide">here</Tag>}
              <span className="block text-sm text-faded">
                by {l.how} from {l.address}, last used {day(l.seenAt)} {hour(l.seenAt)}
              </span>
            </span>
            {!l.here && (
              <Button disabled={end.isPending} onClick={() => end.mutate(l.id)} aria-label={`End the sign-in on ${l.on}`}>
                End
              </Button>
            )}
          </li>
        ))}
      </ul>
      {end.error && <Trouble error={end.error} />}
    </>
  );
}

function Secret({
  label,
  value,
  onChange,
  hint,
  fresh,
}: {
  label: string;
  value: string;
  onChange: (v: string) => void;
  hint?: string;
  fresh?: boolean;
}) {
  return (
    <Field label={label} hint={hint}>
      <input
        className={inputLook}
        type="password"
        value={value}
        onChange={(e) => onChange(e.target.value)}
        autoComplete={fresh ? "new-password" : "current-password"}
        required
      />
    </Field>
  );
}

function OwnPassword() {
  const [was, setWas] = useState("");
  const [next, setNext] = useState("");
  const save = useMutation({
    mutationFn: () => ask(client.PUT("/session/password", { body: { was, new: next } })),
    onSuccess: () => {
      setWas("");
      setNext("");
    },
  });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate();
  };
  return (
    <Panel title="Your password">
      <form onSubmit={submit} className="grid gap-3">
        <Secret label="Password until now" value={was} onChange={setWas} />
        <Secret label="New password" hint="Ten letters or more" value={next} onChange={setNext} fresh />
        {save.error && <Trouble error={save.error} />}
        {save.isSuccess && <p role="status">Changed. Everywhere else you are signed out.</p>}
        <Button type="submit" disabled={save.isPending} className="justify-self-start">
          Change the password
        </Button>
      </form>
    </Panel>
  );
}

function OwnDigits() {
  const [password, setPassword] = useState("");
  const [digits, setDigits] = useState("");
  const save = useMutation({
    mutationFn: () => ask(client.PUT("/session/digits", { body: { password, digits } })),
    onSuccess: () => {
      setPassword("");
      setDigits("");
    },
  });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate();
  };
  return (
    <Panel title="Four digits for the shared tablet">
      <form onSubmit={submit} className="grid gap-3">
        <Field label="Four digits" hint="Not four alike or in a row">
          <input
            className={`${inputLook} num`}
            inputMode="numeric"
            pattern="[0-9]{4}"
            maxLength={4}
            value={digits}
            onChange={(e) => setDigits(e.target.value)}
            autoComplete="off"
            required
          />
        </Field>
        <Secret label="Your password" value={password} onChange={setPassword} />
        {save.error && <Trouble error={save.error} />}
        {save.isSuccess && <p role="status">Saved. On a shared tablet tap your name and type them.</p>}
        <Button type="submit" disabled={save.isPending} className="justify-self-start">
          Set the digits
        </Button>
      </form>
    </Panel>
  );
}
