import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, type ReactNode, useState } from "react";
import { ask, client, Problem } from "../api/client";
import { become } from "../api/shop";
import { Button, Field, inputLook, Loading, Trouble, useTitle } from "../kit/kit";
import { SetUp } from "./SetUp";
import { Tablet } from "./Tablet";
import { keys } from "../api/keys";

type Way = "password" | "code" | "digits";

/** The way in: by password, by a one-time code, by four digits on a shared tablet, or, where there is no shop yet, by setting one up. */
export function SignIn() {
  const setup = useQuery({ queryKey: keys.setup(), queryFn: () => ask(client.GET("/setup")), staleTime: 60_000 });
  const tablet = useQuery({ queryKey: keys.tablet(), queryFn: () => ask(client.GET("/tablet")), staleTime: 60_000 });
  const [chosen, setWay] = useState<Way>();
  if (setup.isPending || tablet.isPending) return <Loading what="the way in" />;
  if (setup.data?.open) return <SetUp view={setup.data} />;
  const shared = tablet.data?.shared ? tablet.data : undefined;
  const way = chosen ?? (shared ? "digits" : "password");
  if (way === "digits" && shared) return <Tablet view={shared} onPassword={() => setWay("password")} />;
  return (
    <Door>
      {way === "code" ? <ByCode /> : <ByPassword />}
      <div className="flex flex-wrap gap-x-4">
        <Button look="quiet" className="px-0!" onClick={() => setWay(way === "code" ? "password" : "code")}>
          {way === "code" ? "Sign in by password" : "I have a one-time code"}
        </Button>
        {shared && (
          <Button look="quiet" className="px-0!" onClick={() => setWay("digits")}>
            Four digits
          </Button>
        )}
      </div>
    </Door>
  );
}

function Door({ children }: { children: ReactNode }) {
  useTitle("Sign in");
  return (
    <main className="mx-auto grid min-h-dvh max-w-sm content-center gap-5 p-6">
      <h1 className="flex items-center gap-3 text-3xl">
        <img src="/mark.svg" alt="" className="h-hit w-hit" /> Uskel
      </h1>
      <p className="text-faded">Hand washing, measured: look over, plan, wash, check.</p>
      {children}
    </main>
  );
}

function NameField({ value, onChange }: { value: string; onChange: (name: string) => void }) {
  return (
    <Field label="Name">
      <input
        className={inputLook}
        value={value}
        onChange={(e) => onChange(e.target.value)}
        autoComplete="username"
        autoCapitalize="none"
        autoFocus
        required
      />
    </Field>
  );
}

/** Whether a refusal asks for the code of an authenticator. */
const asksForCode = (error: unknown) => error instanceof Problem && error.fields.some((f) => f.location === "authenticator");

/** The code of an authenticator: asked for once the password was right, by those who have switched one on. */
function AuthenticatorField({ value, onChange }: { value: string; onChange: (code: string) => void }) {
  return (
    <Field label="Code of your authenticator" hint="Six digits, or one of your recovery codes">
      <input
        className={`${inputLook} num`}
        value={value}
        onChange={(e) => onChange(e.target.value)}
        autoComplete="one-time-code"
        maxLength={40}
        autoFocus
        required
      />
    </Field>
  );
}

function ByPassword() {
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const [authenticator, setAuthenticator] = useState<string>();
  const queries = useQueryClient();
  const enter = useMutation({
    mutationFn: () => ask(client.POST("/session", { body: { name: name.trim(), password, ...(authenticator && { authenticator }) } })),
    onSuccess: (me) => become(queries, me),
    onError: (error) => {
      if (asksForCode(error)) setAuthenticator((was) => was ?? "");
    },
  });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    enter.mutate();
  };
  return (
    <form onSubmit={submit} className="grid gap-4">
      <NameField value={name} onChange={setName} />
      <Field label="Password">
        <input
          className={inputLook}
          type="password"
          value={password}
          onChange={(e) => setPassword(e.target.value)}
          autoComplete="current-password"
          required
        />
      </Field>
      {authenticator !== undefined && <AuthenticatorField value={authenticator} onChange={setAuthenticator} />}
      {enter.error && !(asksForCode(enter.error) && !authenticator) && <Trouble error={enter.error} />}
      <Button look="act" type="submit" disabled={enter.isPending} className="min-h-14 text-lg">
        Sign in
      </Button>
    </form>
  );
}

/** Somebody new, or who forgot their password: a lead gave them a code that opens once. */
function ByCode() {
  const [name, setName] = useState("");
  const [code, setCode] = useState("");
  const [password, setPassword] = useState("");
  const [authenticator, setAuthenticator] = useState<string>();
  const queries = useQueryClient();
  const enter = useMutation({
    mutationFn: () =>
      ask(client.POST("/session/code", { body: { name: name.trim(), code, password, ...(authenticator && { authenticator }) } })),
    onSuccess: (me) => become(queries, me),
    onError: (error) => {
      if (asksForCode(error)) setAuthenticator((was) => was ?? "");
    },
  });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    enter.mutate();
  };
  return (
    <form onSubmit={submit} className="grid gap-4">
      <NameField value={name} onChange={setName} />
      <Field label="One-time code" hint="The lead gives it to you; capitals do not matter">
        <input
          className={`${inputLook} num`}
          value={code}
          onChange={(e) => setCode(e.target.value)}
          autoComplete="one-time-code"
          autoCapitalize="characters"
          required
        />
      </Field>
      <Field label="New password" hint="Ten letters or more: three unrelated words are easy to remember">
        <input
          className={inputLook}
          type="password"
          value={password}
          onChange={(e) => setPassword(e.target.value)}
          autoComplete="new-password"
          required
        />
      </Field>
      {authenticator !== undefined && <AuthenticatorField value={authenticator} onChange={setAuthenticator} />}
      {enter.error && !(asksForCode(enter.error) && !authenticator) && <Trouble error={enter.error} />}
      <Button look="act" type="submit" disabled={enter.isPending} className="min-h-14 text-lg">
        Set the password and sign in
      </Button>
    </form>
  );
}
