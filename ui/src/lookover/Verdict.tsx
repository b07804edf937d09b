import { type Schemas, Problem } from "../api/client";
import { minutes, sentence } from "../kit/format";
import { Tag } from "../kit/kit";

/** What follows from what was seen: how dirty, what will not come off, which washes would do. */
export function Verdict({
  assessment: a,
  choices,
  trouble,
}: {
  assessment: Schemas["Assessment"];
  choices: Schemas["ChoiceLine"][];
  trouble: unknown;
}) {
  return (
    <section className="rounded-2xl border-2 border-ink bg-paper p-4" aria-live="polite" aria-label="What follows">
      <div className="flex items-center gap-3">
        <span
          className="num grid h-14 w-14 shrink-0 place-items-center rounded-xl border-2 border-ink text-3xl font-bold"
          style={{ background: `var(--soil-${a.overall})`, color: a.overall > 2 ? "var(--paper)" : "var(--ink)" }}
        >
          {a.driver ? a.overall : "–"}
        </span>
        <div>
          <p className="text-lg leading-tight font-bold">{a.driver ? `${sentence(a.name)} overall` : sentence(a.name)}</p>
          <p className="text-sm text-faded">{a.because}</p>
        </div>
      </div>
      {a.barred.map((b) => (
        <p key={b} className="mt-2 rounded-lg bg-rust-wash p-2 font-semibold text-rust">
          Do not wash now. {b}
        </p>
      ))}
      <p className={`mt-2 ${a.outScope.length ? "font-semibold" : "text-faded"}`}>{a.scope}</p>
      {a.advice.length > 0 && (
        <ul className="mt-2 list-disc pl-5">
          {a.advice.map((x) => (
            <li key={x}>{x}</li>
          ))}
        </ul>
      )}
      {trouble ? (
        <p className="mt-2 text-sm text-rust">
          {trouble instanceof Problem ? trouble.message : "Not judged."} Your grades are safe on this device.
        </p>
      ) : (
        <Choices choices={choices} />
      )}
    </section>
  );
}

/** The first few that would do, and how many are refused. */
function Choices({ choices }: { choices: Schemas["ChoiceLine"][] }) {
  const possible = choices.filter((c) => c.verdict !== "refused");
  const refused = choices.filter((c) => c.verdict === "refused");
  return (
    <div className="mt-3 grid gap-1.5 border-t border-line pt-2.5">
      <ul className="grid gap-1.5">
        {possible.slice(0, 3).map((c) => (
          <li key={c.title} className="flex items-start justify-between gap-3">
            <span>
              <b>{c.title}</b>
              <span className="block text-sm text-faded">
                {minutes(c.minutes)}, scratch risk {Math.round(c.index)}
              </span>
            </span>
            <Tag tone={c.verdict === "recommended" ? "moss" : "plain"}>{sentence(c.verdict)}</Tag>
          </li>
        ))}
      </ul>
      {refused.length > 0 && (
        <details open={possible.length === 0}>
          <summary className="font-semibold text-rust">{refused.length} refused here</summary>
          <ul className="mt-1 grid gap-1 text-sm">
            {refused.map((c) => (
              <li key={c.title}>
                <b>{c.title}:</b> {c.why[0]}
              </li>
            ))}
          </ul>
        </details>
      )}
    </div>
  );
}
