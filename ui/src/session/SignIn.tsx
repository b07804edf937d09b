import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { ask, client } from "../api/client";
import { become } from "../api/shop";
import { Button, Field, inputLook, Trouble } from "../kit/kit";

export function SignIn() {
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const queries = useQueryClient();
  const enter = useMutation({
    mutationFn: () => ask(client.POST("/session", { body: { name: name.trim(), password } })),
    onSuccess: (me) => become(queries, me),
  });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    enter.mutate();
  };
  return (
    <main className="mx-auto grid min-h-dvh max-w-sm content-center gap-5 p-6">
      <h1 className="flex items-center gap-3 text-3xl">
        <img src="/mark.svg" alt="" className="h-10 w-10" /> Uskel
      </h1>
      <p className="text-faded">Hand washing, measured: look over, plan, wash, check.</p>
      <form onSubmit={submit} className="grid gap-4">
        <Field label="Name">
          <input
            className={inputLook}
            value={name}
            onChange={(e) => setName(e.target.value)}
            autoComplete="username"
            autoCapitalize="none"
            autoFocus
            required
          />
        </Field>
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
        {enter.error && <Trouble error={enter.error} />}
        <Button look="act" type="submit" disabled={enter.isPending} className="min-h-14 text-lg">
          Sign in
        </Button>
      </form>
    </main>
  );
}
