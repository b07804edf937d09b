import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { ask, client, type Schemas } from "../api/client";
import { become, useMay, useMe } from "../api/shop";
import { day, hour, plural } from "../kit/format";
import { Entry, TextField, useEntry } from "../kit/form";
import { Button, Loading, Panel, Tag, Trouble } from "../kit/kit";
import { keys } from "../api/keys";

/** One's own way in: password, four digits, where one is signed in. */
export function You() {
  const me = useMe().data;
  const may = useMay();
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
        {may("keep people") && <OwnAuthenticator />}
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

function OwnPassword() {
  const of = useEntry({
    start: { was: "", new: "" },
    save: (body) => ask(client.PUT("/session/password", { body })),
    onSaved: (_answer, clear) => clear(),
  });
  return (
    <Panel title="Your password">
      <Entry of={of} act="Change the password">
        <TextField form={of.form} name="was" label="Current password" type="password" autoComplete="current-password" />
        <TextField
          form={of.form}
          name="new"
          label="New password"
          hint="Ten letters or more"
          type="password"
          autoComplete="new-password"
          rules={{ required: "write one" }}
        />
        {of.saving.isSuccess && <p role="status">Changed. You are signed out everywhere else.</p>}
      </Entry>
    </Panel>
  );
}

function OwnDigits() {
  const of = useEntry({
    start: { password: "" },
    save: (body) => ask(client.PUT("/session/digits", { body })),
    onSaved: (_answer, clear) => clear(),
  });
  const drawn = of.saving.data?.digits;
  return (
    <Panel title="Four digits for the shared tablet">
      <Entry of={of} act="Draw new digits">
        <p className="text-sm text-faded">They are drawn by chance: years and birthdays are guessed first. Old ones open no more.</p>
        <TextField form={of.form} name="password" label="Your password for the digits" type="password" autoComplete="current-password" />
        {drawn && (
          <p role="status" className="rounded-xl bg-tide-wash p-3">
            <b className="num text-3xl tracking-widest">{drawn}</b>
            <span className="block text-sm">
              Learn them by heart: they are not shown again. On a shared tablet tap your name and type them.
            </span>
          </p>
        )}
      </Entry>
    </Panel>
  );
}

/** The app that shows a new code every half a minute: a password that somebody saw or guessed then opens nothing. */
function OwnAuthenticator() {
  const queries = useQueryClient();
  const now = useQuery({ queryKey: keys.authenticator(), queryFn: () => ask(client.GET("/session/authenticator")) });
  const again = () => queries.invalidateQueries({ queryKey: keys.authenticator() });
  const offer = useMutation({ mutationFn: () => ask(client.POST("/session/authenticator")) });
  const off = useMutation({
    meta: { said: "The authenticator is off." },
    mutationFn: () => ask(client.DELETE("/session/authenticator")),
    onSuccess: again,
  });
  const of = useEntry({
    start: { code: "" },
    save: (body) => ask(client.POST("/session/authenticator/on", { body })),
    onSaved: (_answer, clear) => {
      clear();
      offer.reset();
      void again();
    },
  });
  const codes = of.saving.data?.codes;
  const made = offer.data;
  return (
    <Panel title="Authenticator app">
      {now.isPending && <Loading what="your authenticator" />}
      {now.error && <Trouble error={now.error} retry={() => void now.refetch()} />}
      {codes && (
        <div role="status" className="mb-3 rounded-xl bg-tide-wash p-3">
          <p className="font-semibold">It is on. Write these recovery codes down: they are not shown again, and each opens once.</p>
          <ul className="num mt-2 grid gap-x-6 gap-y-1 text-lg sm:grid-cols-2">
            {codes.map((c) => (
              <li key={c}>{c}</li>
            ))}
          </ul>
        </div>
      )}
      {now.data?.on && (
        <>
          <p className="mb-3">
            Asked for at every sign-in by password since {day(now.data.on)}. {plural(now.data.recovery, "recovery code")} left.
          </p>
          <Button className="min-h-hit" disabled={off.isPending} onClick={() => off.mutate()}>
            Switch it off
          </Button>
          {off.error && <Trouble error={off.error} />}
        </>
      )}
      {now.data && !now.data.on && !made && (
        <>
          <p className="mb-3 text-sm text-faded">
            Besides your password, sign-in then asks for six digits that an app on your phone shows. Any app that takes the common
            time-based codes will do.
          </p>
          <Button className="min-h-hit" disabled={offer.isPending} onClick={() => offer.mutate()}>
            Set one up
          </Button>
          {offer.error && <Trouble error={offer.error} />}
        </>
      )}
      {made && (
        <Entry of={of} act="Switch it on">
          <p>Look at this with the app, or type the letters into it.</p>
          <img src={made.picture} alt="A code to be looked at by the app; the letters below say the same" className="h-60 w-60 bg-white" />
          <p className="num break-all">{made.secret}</p>
          <TextField
            form={of.form}
            name="code"
            label="The six digits that it shows now"
            autoComplete="one-time-code"
            rules={{ required: "type them" }}
          />
        </Entry>
      )}
    </Panel>
  );
}
