import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Trash2 } from "lucide-react";
import { useState, type ReactNode } from "react";
import { useNavigate, useParams } from "react-router";
import { type Schemas, ask, client } from "../api/client";
import { keys, stale } from "../api/keys";
import { useWords } from "../api/shop";
import { day, sentence } from "../kit/format";
import { Button, Field, Head, inputLook, LinkButton, Loading, Panel, Tick, Trouble } from "../kit/kit";
import { say } from "../kit/notice";
import { draftOf, dropDraft, keepDraft } from "../offline/draft";
import { newId } from "../offline/ids";

type Rubric = Schemas["Rubric"];
type Skill = Schemas["Skill"];
type Technique = NonNullable<Schemas["Criterion"]["techniques"]>[number];

/** The lead writes a skill's lesson, what is watched for, and what a sign-off needs. What is typed is kept on this device
 *  until it is published as a new version. */
export function WriteRubric() {
  const { skill = "mitt" } = useParams();
  const versions = useQuery({
    queryKey: keys.rubric(skill),
    queryFn: () => ask(client.GET("/rubrics/{skill}", { params: { path: { skill: skill as Skill } } })),
  });
  if (versions.isPending) return <Loading what="the lesson" />;
  const newest = versions.data?.[0];
  if (!versions.data || !newest) return <Trouble error={versions.error} retry={() => void versions.refetch()} />;
  return <Editor key={newest.version} skill={skill as Skill} versions={versions.data} newest={newest.rubric} />;
}

const kept = (skill: string) => `rubric ${skill}`;

function Editor({ skill, versions, newest }: { skill: Skill; versions: Schemas["RubricVersion"][]; newest: Rubric }) {
  const draft = draftOf<Rubric>(kept(skill));
  const [r, setR] = useState<Rubric>(draft?.version === newest.version ? draft : newest);
  const queries = useQueryClient();
  const go = useNavigate();
  const set = (change: Partial<Rubric>) => {
    const next = { ...r, ...change };
    keepDraft(kept(skill), next);
    setR(next);
  };
  const publish = useMutation({
    mutationFn: () =>
      ask(client.PUT("/rubrics/{skill}", { params: { path: { skill } }, body: { version: newest.version, rubric: tidied(r) } })),
    onSuccess: (saved) => {
      dropDraft(kept(skill));
      queries.setQueryData(keys.rubric(skill), saved);
      stale(queries, keys.lesson(), keys.training());
      say(`Version ${saved[0]?.version} of ${skill} is published.`);
      void go(`/training/lessons/${skill}`);
    },
  });
  const back = () => {
    dropDraft(kept(skill));
    setR(newest);
  };
  return (
    <>
      <Head title={`Write: ${skill}`} sub="Kept on this device as you type; trainers and trainees see it once it is published.">
        <LinkButton to={`/training/lessons/${skill}`}>Lesson</LinkButton>
        <Button onClick={back}>Back to version {newest.version}</Button>
        <Button look="act" disabled={publish.isPending} onClick={() => publish.mutate()}>
          Publish
        </Button>
      </Head>
      {publish.error && <Trouble error={publish.error} />}
      <div className="grid gap-4 xl:grid-cols-2">
        <WatchedFor r={r} set={set} />
        <Needed r={r} set={set} />
        <LessonText r={r} set={set} />
        <Panel title="Versions">
          <ul className="grid gap-2">
            {versions.map((v) => (
              <li key={v.version} className="border-t border-line pt-1">
                <b>{v.version === 0 ? "What Uskel begins with" : `Version ${v.version}`}</b>
                {v.at && <span className="text-sm text-faded">{` ${day(v.at)}, ${v.by}`}</span>}
                {v.changed.map((c) => (
                  <span key={c} className="block text-sm">
                    {c}
                  </span>
                ))}
              </li>
            ))}
          </ul>
        </Panel>
      </div>
    </>
  );
}

/** Without the lines that were left empty. */
const tidied = (r: Rubric): Rubric => ({ ...r, minute: r.minute.map((m) => m.trim()).filter(Boolean) });

interface PartProps {
  r: Rubric;
  set: (change: Partial<Rubric>) => void;
}

function WatchedFor({ r, set }: PartProps) {
  const change = (i: number, c: Partial<Schemas["Criterion"]>) =>
    set({ criteria: r.criteria.map((x, k) => (k === i ? { ...x, ...c } : x)) });
  return (
    <Panel title="Watched for">
      <ul className="grid gap-3">
        {r.criteria.map((c, i) => (
          <Line key={c.id} name={c.text || "this line"} drop={() => set({ criteria: r.criteria.filter((_, k) => k !== i) })}>
            <input
              className={inputLook}
              aria-label={`Watched for, ${i + 1}`}
              maxLength={160}
              value={c.text}
              onChange={(e) => change(i, { text: e.target.value })}
            />
            <Tick label="Must be seen" on={c.must} onChange={(must) => change(i, { must })} />
            <SeenIn c={c} change={(techniques) => change(i, { techniques })} />
          </Line>
        ))}
      </ul>
      <Button
        className="mt-3"
        disabled={r.criteria.length >= 12}
        onClick={() => set({ criteria: [...r.criteria, { id: `c-${newId().slice(0, 8)}`, text: "", must: false }] })}
      >
        Add a line
      </Button>
    </Panel>
  );
}

/** In which of the skill's steps a line is asked for: in all of them unless some are named. */
function SeenIn({ c, change }: { c: Schemas["Criterion"]; change: (techniques: Technique[]) => void }) {
  const all = useWords().data?.lists.techniques ?? [];
  const named = c.techniques ?? [];
  return (
    <details>
      <summary className="min-h-hit content-center text-sm">
        {named.length === 0 ? "Seen in every step of this skill" : `Seen in: ${named.join(", ")}`}
      </summary>
      <div role="group" aria-label={`Steps in which "${c.text}" is seen`} className="grid grid-cols-2 gap-x-3">
        {all.map((t) => (
          <Tick
            key={t}
            label={sentence(t)}
            on={named.includes(t as Technique)}
            onChange={(on) => change(on ? [...named, t as Technique] : named.filter((x) => x !== t))}
          />
        ))}
      </div>
    </details>
  );
}

function Line({ name, drop, children }: { name: string; drop: () => void; children: ReactNode }) {
  return (
    <li className="grid gap-1 border-t border-line pt-2">
      <div className="flex items-start gap-2">
        <div className="grid flex-1 gap-1">{children}</div>
        <Button aria-label={`Take out ${name}`} className="min-w-hit" onClick={drop}>
          <Trash2 size={18} />
        </Button>
      </div>
    </li>
  );
}

const needs = [
  { key: "watched", label: "Watched washes, all that must be done alone", most: 20 },
  { key: "drills", label: "Drills passed", most: 20 },
  { key: "level", label: "At this level or above", most: 3 },
  { key: "audits", label: "Audits without a finding of it", most: 50 },
] as const;

function Needed({ r, set }: PartProps) {
  const number = (text: string, least: number, most: number) => Math.min(most, Math.max(least, Math.round(Number(text) || 0)));
  return (
    <Panel title="What a sign-off needs">
      <p className="mb-2 text-sm text-faded">Uskel proposes a sign-off once all of it is there; the trainer decides.</p>
      <div className="grid gap-2 sm:grid-cols-2">
        {needs.map((n) => (
          <Field key={n.key} label={n.label}>
            <input
              type="number"
              className={inputLook}
              min={n.key === "level" ? 1 : 0}
              max={n.most}
              value={r.needs[n.key]}
              onChange={(e) => set({ needs: { ...r.needs, [n.key]: number(e.target.value, n.key === "level" ? 1 : 0, n.most) } })}
            />
          </Field>
        ))}
        <Field label="Taught as number">
          <input
            type="number"
            className={inputLook}
            min={1}
            max={99}
            value={r.order}
            onChange={(e) => set({ order: number(e.target.value, 1, 99) })}
          />
        </Field>
      </div>
    </Panel>
  );
}

function LessonText({ r, set }: PartProps) {
  const change = (i: number, c: Partial<Schemas["TaughtRule"]>) => set({ rules: r.rules.map((x, k) => (k === i ? { ...x, ...c } : x)) });
  return (
    <Panel title="The lesson">
      <div className="grid gap-3">
        <Field label="Why it matters">
          <input className={inputLook} maxLength={200} value={r.why} onChange={(e) => set({ why: e.target.value })} />
        </Field>
        <Field label="The job in a minute, a line each">
          <textarea
            className={`${inputLook} min-h-32 py-2`}
            value={r.minute.join("\n")}
            onChange={(e) => set({ minute: e.target.value.split("\n").slice(0, 8) })}
          />
        </Field>
        <ul className="grid gap-3">
          {r.rules.map((x, i) => (
            <Line key={i} name={`rule ${i + 1}`} drop={() => set({ rules: r.rules.filter((_, k) => k !== i) })}>
              {(["ask", "rule", "because"] as const).map((k) => (
                <Field key={k} label={`${sentence(words[k])} ${i + 1}`}>
                  <input className={inputLook} maxLength={200} value={x[k]} onChange={(e) => change(i, { [k]: e.target.value })} />
                </Field>
              ))}
            </Line>
          ))}
        </ul>
        <Button disabled={r.rules.length >= 8} onClick={() => set({ rules: [...r.rules, { ask: "", rule: "", because: "" }] })}>
          Add a rule
        </Button>
      </div>
    </Panel>
  );
}

const words = { ask: "question", rule: "rule", because: "reason" } as const;
