import { useMutation } from "@tanstack/react-query";
import { AlertTriangle, CloudOff } from "lucide-react";
import { RadioGroup } from "radix-ui";
import { type ButtonHTMLAttributes, type ReactNode, useEffect, useId, useRef, useState, useSyncExternalStore } from "react";
import { Link, type LinkProps, useLocation } from "react-router";
import { ask, client, Problem } from "../api/client";
import { sentence } from "./format";

const buttonLook = {
  act: "bg-tide text-on-tide border-tide hover:brightness-110",
  plain: "bg-paper text-ink border-line hover:border-ink",
  quiet: "bg-transparent text-tide border-transparent underline-offset-4 hover:underline",
};
const buttonBase =
  "inline-flex items-center justify-center gap-2 rounded-xl border-2 hit px-4 font-semibold disabled:opacity-50 disabled:cursor-not-allowed";

type Look = keyof typeof buttonLook;

export function Button({ look = "plain", className = "", ...rest }: ButtonHTMLAttributes<HTMLButtonElement> & { look?: Look }) {
  return <button type="button" className={`${buttonBase} ${buttonLook[look]} ${className}`} {...rest} />;
}

export function LinkButton({ look = "plain", className = "", ...rest }: LinkProps & { look?: Look }) {
  return <Link className={`${buttonBase} ${buttonLook[look]} ${className}`} {...rest} />;
}

export function Panel({
  id,
  title,
  aside,
  children,
  className = "",
}: {
  id?: string;
  title?: ReactNode;
  aside?: ReactNode;
  children: ReactNode;
  className?: string;
}) {
  return (
    <section id={id} className={`rounded-2xl border border-line bg-paper p-4 ${className}`}>
      {title && (
        <div className="mb-2 flex items-baseline justify-between gap-3">
          <h2>{title}</h2>
          {aside && <div className="text-faded">{aside}</div>}
        </div>
      )}
      {children}
    </section>
  );
}

const narrow = window.matchMedia("(width < 40rem)");

/** Whether the page is a phone's. */
export const useNarrow = () =>
  useSyncExternalStore(
    (changed) => {
      narrow.addEventListener("change", changed);
      return () => narrow.removeEventListener("change", changed);
    },
    () => narrow.matches,
  );

/** Says in the browser's tab which page this is. */
export function useTitle(title: string) {
  useEffect(() => {
    document.title = `${title} · Uskel`;
  }, [title]);
}

/** The page whose heading was in focus last: a new one takes the focus, the first and the same do not. */
let visited: string | undefined;

/** The head of a page: what it is, and what can be done. Whoever comes by keyboard or screen reader begins at it. */
export function Head({ title, sub, children }: { title: string; sub?: ReactNode; children?: ReactNode }) {
  const { pathname } = useLocation();
  const heading = useRef<HTMLHeadingElement>(null);
  useTitle(title);
  useEffect(() => {
    if (visited !== undefined && visited !== pathname) heading.current?.focus({ preventScroll: true });
    visited = pathname;
  }, [pathname]);
  return (
    <header className="mb-4 flex flex-wrap items-end justify-between gap-x-6 gap-y-2">
      <div>
        <h1 ref={heading} tabIndex={-1} className="outline-none">
          {title}
        </h1>
        {sub && <p className="text-faded">{sub}</p>}
      </div>
      {children && <div className="flex flex-wrap items-center gap-2">{children}</div>}
    </header>
  );
}

const toneLook = {
  plain: "border-line text-ink",
  tide: "border-tide text-tide",
  moss: "border-moss text-moss bg-moss-wash",
  rust: "border-rust text-rust bg-rust-wash",
  amber: "border-amber text-amber-ink bg-amber-wash",
};
export type Tone = keyof typeof toneLook;

export function Tag({ tone = "plain", children }: { tone?: Tone; children: ReactNode }) {
  return (
    <span
      className={`inline-flex items-center gap-1 rounded-full border px-2.5 py-0.5 text-sm font-semibold whitespace-nowrap ${toneLook[tone]}`}
    >
      {children}
    </span>
  );
}

/** A field with its name, and what is wrong with it where it is wrong. */
export function Field({
  label,
  hint,
  error,
  wordless,
  children,
}: {
  label: string;
  hint?: ReactNode;
  error?: string | undefined;
  /** In a table whose head says the label. */
  wordless?: boolean | undefined;
  children: ReactNode;
}) {
  return (
    <div>
      <label className="block">
        <span className={wordless ? "sr-only" : "mb-1 block font-semibold"}>{label}</span>
        {children}
        {hint && <span className="mt-1 block text-sm text-faded">{hint}</span>}
      </label>
      {error && (
        <p role="alert" className="mt-1 font-semibold text-rust">
          {sentence(error)}
        </p>
      )}
    </div>
  );
}

/** Yes or no, with its words as large a target as the box. */
export function Tick({
  label,
  on,
  onChange,
  className = "",
  wordless,
}: {
  label: ReactNode;
  on: boolean;
  onChange: (on: boolean) => void;
  className?: string;
  /** In a table whose head says the words. */
  wordless?: boolean;
}) {
  return (
    <label className={`hit flex min-w-hit items-center gap-3 ${className}`}>
      <input type="checkbox" className="h-6 w-6 shrink-0" checked={on} onChange={(e) => onChange(e.target.checked)} />
      <span className={wordless ? "sr-only" : undefined}>{label}</span>
    </label>
  );
}

export const inputLook = "w-full min-h-hit rounded-xl border-2 border-line bg-paper px-3 focus:border-tide";

export function Select<T extends string>({
  value,
  options,
  onChange,
  label,
}: {
  value: T;
  options: readonly (T | { value: T; label: string })[];
  onChange: (v: T) => void;
  label?: string;
}) {
  return (
    <select aria-label={label} className={inputLook} value={value} onChange={(e) => onChange(e.target.value as T)}>
      {options.map((o) => {
        const { value: v, label: text } = typeof o === "string" ? { value: o, label: o } : o;
        return (
          <option key={v} value={v}>
            {/^\w+\//.test(text) ? text : text.charAt(0).toUpperCase() + text.slice(1) /* mg/l is no Mg/l */}
          </option>
        );
      })}
    </select>
  );
}

/** A choice of few, all in sight. */
export function Choice<T extends string>({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: T;
  options: readonly { value: T; label: ReactNode }[];
  onChange: (v: T) => void;
}) {
  const id = useId();
  return (
    <RadioGroup.Root value={value} onValueChange={(v) => onChange(v as T)} aria-labelledby={id}>
      <span id={id} className="mb-1 block font-semibold">
        {label}
      </span>
      <div className="flex flex-wrap gap-1.5">
        {options.map((o) => (
          <RadioGroup.Item
            key={o.value}
            value={o.value}
            className={`min-h-hit rounded-xl border-2 px-3 ${o.value === value ? "border-tide bg-tide-wash font-semibold" : "border-line bg-paper hover:border-ink"}`}
          >
            {o.label}
          </RadioGroup.Item>
        ))}
      </div>
    </RadioGroup.Root>
  );
}

/** What went wrong, with the fields named. */
export function Trouble({ error, retry }: { error: unknown; retry?: () => void }) {
  const p = error instanceof Problem ? error : new Problem(0, "Something went wrong on this page.");
  const Icon = p.passing ? CloudOff : AlertTriangle;
  if (p.fields.some((f) => f.location === "session.password")) return <AskPassword then={retry} />;
  return (
    <div role="alert" className="flex items-start gap-3 rounded-xl border-2 border-rust bg-rust-wash p-3 text-rust">
      <Icon className="mt-0.5 shrink-0" size={20} aria-hidden />
      <div className="grow">
        <p className="font-semibold">{p.message}</p>
        {p.fields.map((f) => (
          <p key={f.location + f.message}>{f.location && !p.stale ? `${f.location}: ${f.message}` : sentence(f.message)}</p>
        ))}
      </div>
      {retry && (
        <Button onClick={retry} className="min-h-hit">
          Try again
        </Button>
      )}
    </div>
  );
}

/** A panel whose content could not be fetched, beside others that could. */
export function Away({ title, query }: { title: string; query: { error: unknown; refetch: () => unknown } }) {
  return (
    <Panel title={title}>
      <Trouble error={query.error} retry={() => void query.refetch()} />
    </Panel>
  );
}

/** On a shared tablet four digits are not enough for everything: this asks for the password, for ten minutes. */
function AskPassword({ then }: { then?: () => void }) {
  const [password, setPassword] = useState("");
  const confirm = useMutation({
    mutationFn: () => ask(client.POST("/session/confirm", { body: { password } })),
    onSuccess: () => then?.(),
  });
  if (confirm.isSuccess && !then)
    return (
      <p role="status" className="rounded-xl border-2 border-moss bg-moss-wash p-3 font-semibold">
        Thank you. Try again now: you will not be asked for ten minutes.
      </p>
    );
  return (
    <div className="grid gap-3 rounded-xl border-2 border-tide p-3">
      <Field label="Your password" hint="Four digits are not enough here. Your password opens it for ten minutes.">
        <input
          className={inputLook}
          type="password"
          value={password}
          autoComplete="current-password"
          onChange={(e) => setPassword(e.target.value)}
        />
      </Field>
      {confirm.error && <Trouble error={confirm.error} />}
      <Button look="act" className="justify-self-start" disabled={confirm.isPending || password === ""} onClick={() => confirm.mutate()}>
        Go on
      </Button>
    </div>
  );
}

export function Loading({ what }: { what: string }) {
  return (
    <p role="status" className="p-6 text-faded">
      Fetching {what}…
    </p>
  );
}

export function Empty({ children }: { children: ReactNode }) {
  return <p className="rounded-xl border-2 border-dashed border-line p-6 text-center text-faded">{children}</p>;
}

/** A number with its unit, said large. */
export function Figure({ value, label, tone = "text-ink" }: { value: ReactNode; label: ReactNode; tone?: string }) {
  return (
    <div>
      <div className={`num text-2xl leading-tight font-semibold ${tone}`}>{value}</div>
      <div className="text-sm text-faded">{label}</div>
    </div>
  );
}

/** Where numbers came from: inputs, rule, source. */
export function Origins({ figures }: { figures: { name: string; value: string; from: string; source: string }[] }) {
  if (figures.length === 0) return null;
  return (
    <details className="mt-3">
      <summary className="font-semibold text-tide">Where these numbers come from</summary>
      <dl className="mt-2 space-y-2">
        {figures.map((f) => (
          <div key={f.name} className="border-l-4 border-line pl-3">
            <dt className="font-semibold">
              {f.name}: <span className="num">{f.value}</span>
            </dt>
            <dd>{f.from}.</dd>
            <dd className="text-sm text-faded">{f.source}</dd>
          </div>
        ))}
      </dl>
    </details>
  );
}

export function Table({
  head,
  children,
  caption,
  stacks,
}: {
  head: ReactNode[];
  children: ReactNode;
  caption: string;
  /** On a phone each row lies as a card; its cells name themselves by data-head. */
  stacks?: boolean;
}) {
  return (
    <div className="overflow-x-auto" role="region" aria-label={caption} tabIndex={0}>
      <table className={`w-full border-collapse text-left ${stacks ? "stacks" : ""}`}>
        <caption className="sr-only">{caption}</caption>
        <thead>
          <tr className="border-b-2 border-line text-sm text-faded">
            {head.map((h, i) =>
              h === "" ? (
                <td key={i} />
              ) : (
                <th key={i} scope="col" className="px-2 py-1.5 font-semibold">
                  {h}
                </th>
              ),
            )}
          </tr>
        </thead>
        <tbody className="[&>tr]:border-b [&>tr]:border-line [&_td]:px-2 [&_td]:py-1.5 [&_th]:px-2 [&_th]:py-1.5">{children}</tbody>
      </table>
    </div>
  );
}
