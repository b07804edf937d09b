import { useState } from "react";
import { useParams } from "react-router";
import type { Schemas } from "../api/client";
import { clock, minutes, plural, sentence } from "../kit/format";
import { Button, Choice, Empty, Head, LinkButton, Loading, Tag, Trouble, inputLook } from "../kit/kit";
import { type Mark, useMarks } from "./useMarks";

type Step = Schemas["WatchStep"];
type Criterion = Schemas["Criterion"];

/** A trainee's wash on the trainer's own device: what each step shows is marked as it happens. */
export function Watch() {
  const { id = "" } = useParams();
  const watched = useMarks(id);
  const [who, setWho] = useState("");
  const v = watched.view.data;
  if (!v) return watched.view.isPending ? <Loading what="the wash" /> : <Trouble error={watched.view.error} />;
  const person = v.people.find((p) => p.id === who) ?? v.people.find((p) => p.role === "trainee") ?? v.people[0];
  if (!person) return <Empty>Nobody but you washes this vehicle.</Empty>;
  const steps = [...v.steps].sort((a, b) => rank(a) - rank(b));
  const open = steps.filter((s) => rank(s) < 2);
  const over = steps.filter((s) => rank(s) === 2);
  const mark = (step: Step, c: Criterion, m: number, note?: string) =>
    watched.add({
      personId: person.id,
      skill: step.skill,
      version: v.rubrics.find((r) => r.skill === step.skill)?.version ?? 0,
      criterion: c.id,
      mark: m,
      step: step.id,
      ...(note ? { note } : {}),
    });
  const shown = (list: Step[]) =>
    list.map((s) => (
      <StepWatched
        key={s.id}
        step={s}
        rubric={v.rubrics.find((r) => r.skill === s.skill)}
        marks={watched.marks.filter((m) => m.personId === person.id)}
        mark={mark}
      />
    ));
  return (
    <>
      <Head title={`Watch ${person.name}`} sub={`${v.label}, ${v.plate}`}>
        <LinkButton to="/training" className="max-sm:hidden!">
          Training
        </LinkButton>
      </Head>
      <div className="grid max-w-3xl gap-3">
        {v.people.length > 1 && (
          <Choice label="Who" value={person.id} onChange={setWho} options={v.people.map((p) => ({ value: p.id, label: p.name }))} />
        )}
        {watched.unsent > 0 && !watched.refused && (
          <p role="status" className="text-sm text-faded">{`${plural(watched.unsent, "mark")} kept on this device, not sent yet.`}</p>
        )}
        {watched.refused !== undefined && (
          <div className="grid gap-2">
            <Trouble error={watched.refused} />
            <Button onClick={watched.discard}>{`Let ${plural(watched.unsent, "mark")} go`}</Button>
          </div>
        )}
        {v.steps.length === 0 && <Empty>This wash has no step that asks for a skill.</Empty>}
        {shown(open)}
        {over.length > 0 && (
          <details open={open.length === 0}>
            <summary className="hit font-semibold">{`${plural(over.length, "step")} done`}</summary>
            <div className="mt-2 grid gap-3">{shown(over)}</div>
          </details>
        )}
      </div>
    </>
  );
}

/** What runs comes first, then what is still to come, then what is over. */
const rank = (s: Step) => (s.status === "running" || s.status === "paused" ? 0 : s.status === "waiting" ? 1 : 2);

interface StepProps {
  step: Step;
  rubric: Schemas["Rubric"] | undefined;
  marks: Mark[];
  mark: (step: Step, c: Criterion, m: number, note?: string) => void;
}

function StepWatched({ step, rubric, marks, mark }: StepProps) {
  const seen = rubric?.criteria.filter((c) => step.criteria.includes(c.id)) ?? [];
  const running = rank(step) === 0;
  return (
    <section className={`grid gap-2 rounded-2xl border-2 p-3 ${running ? "border-tide bg-paper" : "border-line"}`}>
      <div className="flex flex-wrap items-baseline justify-between gap-2">
        <h2 className="font-bold">{step.title}</h2>
        <span className="flex items-center gap-2 text-sm text-faded">
          {`${sentence(step.skill)}, planned ${minutes(step.minutes)}`}
          {step.handsOn > 0 && `, ${clock(step.handsOn)} so far`}
          <Tag tone={running ? "tide" : "plain"}>{step.status}</Tag>
        </span>
      </div>
      {seen.map((c) => (
        <Marked
          key={c.id}
          c={c}
          last={marks.filter((m) => m.criterion === c.id && m.skill === step.skill).at(-1)}
          mark={(m, n) => mark(step, c, m, n)}
        />
      ))}
    </section>
  );
}

const chosen = "border-tide bg-tide-wash font-semibold";

const levels = [
  { mark: 0, label: "Not seen" },
  { mark: 1, label: "With help" },
  { mark: 2, label: "Alone" },
] as const;

function Marked({ c, last, mark }: { c: Criterion; last: Mark | undefined; mark: (m: number, note?: string) => void }) {
  const [note, setNote] = useState("");
  return (
    <div role="group" aria-label={c.text} className="grid gap-1 border-t border-line pt-2">
      <p>
        {c.text} {c.must && <span className="text-sm text-faded">(must)</span>}
        {last?.note && <span className="block text-sm text-faded">{`“${last.note}”`}</span>}
      </p>
      <div className="grid grid-cols-3 gap-1.5">
        {levels.map((l) => (
          <button
            key={l.mark}
            type="button"
            aria-pressed={last?.mark === l.mark}
            className={`min-h-14 rounded-xl border-2 px-1 ${last?.mark === l.mark ? chosen : "border-line bg-paper"}`}
            onClick={() => mark(l.mark)}
          >
            {l.label}
          </button>
        ))}
      </div>
      {last && (
        <form
          className="flex gap-1.5"
          onSubmit={(e) => {
            e.preventDefault();
            if (note.trim()) mark(last.mark, note.trim());
            setNote("");
          }}
        >
          <input
            className={inputLook}
            aria-label={`Note on: ${c.text}`}
            placeholder="In three words"
            maxLength={60}
            value={note}
            onChange={(e) => setNote(e.target.value)}
          />
          <Button type="submit" className="whitespace-nowrap" disabled={!note.trim()}>
            Note it
          </Button>
        </form>
      )}
    </div>
  );
}
