import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Check, Circle, RotateCcw } from "lucide-react";
import { type FormEvent, useState } from "react";
import { type Schemas, ask, client } from "../api/client";
import { useMe, useMay, leads } from "../api/shop";
import { day, hour, minutes, plural, sentence } from "../kit/format";
import { Button, Head, LinkButton, Loading, Panel, Select, Table, Tag, Tick, Trouble } from "../kit/kit";
import { keys } from "../api/keys";
import { StartByHand } from "./StartByHand";
import { CasesToday, OwnCases } from "./CaseRecord";

export function Training() {
  const training = useQuery({ queryKey: keys.training(), queryFn: () => ask(client.GET("/training")) });
  const me = useMe().data;
  const may = useMay();
  if (training.isPending) return <Loading what="the training record" />;
  if (!training.data) return <Trouble error={training.error} retry={() => void training.refetch()} />;
  const t = training.data;
  const mine = may("sign off") ? undefined : t.people.find((p) => p.id === me?.id);
  return (
    <>
      <Head title="Training" sub="Technique first, speed later. Skills in the order they are taught." />
      <div className="grid gap-4">
        {t.running.length > 0 && <Running washes={t.running} />}
        {may("sign off") && <ToDo people={t.people} />}
        {may("practise") && <CasesToday />}
        {!may("sign off") && mine?.next && <NextSkill of={mine} rubrics={t.rubrics} />}
        <Panel title="Who is ready for what">
          <Skills people={[...(mine ? [mine] : []), ...t.people.filter((p) => p !== mine)]} />
        </Panel>
        <div className="grid gap-4 xl:grid-cols-2 xl:*:only:col-span-2">
          {may("practise") && <StartByHand cars={t.cars} />}
          {may("sign off") && <SignOff people={t.people.filter((p) => p.id !== me?.id)} rubrics={t.rubrics} />}
          {t.helped && t.helped.length > 0 && <Helped lines={t.helped} />}
          {may("sign off") && <OwnCases skills={t.rubrics.map((r) => r.skill)} />}
        </div>
      </div>
    </>
  );
}

/** What a lead has to do for whom, the most urgent first. */
function ToDo({ people }: { people: Schemas["Learner"][] }) {
  const of = people.filter((p) => (p.toDo ?? []).length > 0);
  if (of.length === 0) return null;
  return (
    <Panel title="Who needs what">
      <ul className="grid gap-1">
        {of.map((p) => (
          <li key={p.id} className="flex flex-wrap gap-x-3 border-t border-line pt-1">
            <b className="min-w-32">{p.name}</b>
            <span className="min-w-64 flex-1">{(p.toDo ?? []).join(" ")}</span>
          </li>
        ))}
      </ul>
    </Panel>
  );
}

/** Whether findings fell after a drill, and whether that is more than chance. */
function Helped({ lines }: { lines: Schemas["Helped"][] }) {
  return (
    <Panel title="Did the drills help?">
      <ul className="grid gap-2">
        {lines.map((h) => (
          <li key={h.skill} className="border-t border-line pt-1">
            <span className="flex items-center justify-between gap-2">
              <b>{sentence(h.skill)}</b>
              <Tag tone={h.told ? "moss" : "plain"}>{h.told ? "fewer findings" : "not to be told"}</Tag>
            </span>
            <span className="block text-sm">{h.says}</span>
          </li>
        ))}
      </ul>
    </Panel>
  );
}

/** Washes of others that run now: a trainer watches them on their own device. */
function Running({ washes }: { washes: Schemas["Watchable"][] }) {
  return (
    <Panel title="Washing now">
      <ul className="grid gap-1">
        {washes.map((w) => (
          <li key={w.washId} className="flex flex-wrap items-center justify-between gap-3 border-t border-line pt-1">
            <span>
              <b>{w.washer.name}</b> <span className="text-faded">{`${w.washer.role}, ${w.label}`}</span>
            </span>
            <LinkButton to={`/training/watch/${w.washId}`}>Watch</LinkButton>
          </li>
        ))}
      </ul>
    </Panel>
  );
}

function Skills({ people }: { people: Schemas["Learner"][] }) {
  const skills = people[0]?.skills.map((s) => s.skill) ?? [];
  return (
    <Table stacks caption="Skills by person" head={["", ...skills.map((s) => sentence(s)), "Next"]}>
      {people.map((p) => (
        <tr key={p.id}>
          <th scope="row" className="whitespace-nowrap">
            {p.name} <span className="block text-sm font-normal text-faded">{p.role}</span>
          </th>
          {p.skills.map((s) => (
            <td key={s.skill} data-head={sentence(s.skill)}>
              <Standing of={s} />
            </td>
          ))}
          <td data-head="Next" className="whitespace-nowrap">
            {leads(p.role) ? "signs off others" : p.next ? <Tag tone="tide">{p.next}</Tag> : "all held"}
            {p.skills.some((s) => s.proposed) && (
              <span className="mt-1 block text-sm font-semibold whitespace-normal text-moss">
                Ready to sign off: {p.skills.flatMap((s) => (s.proposed ? [s.skill] : [])).join(", ")}
              </span>
            )}
            {p.skills.some((s) => s.refresher) && (
              <span className="mt-1 block text-sm whitespace-normal">
                Refresher: {p.skills.flatMap((s) => (s.refresher ? [s.skill] : [])).join(", ")}
              </span>
            )}
          </td>
        </tr>
      ))}
    </Table>
  );
}

/** What somebody learns next, and what a trainer will watch for in their next wash. */
function NextSkill({ of, rubrics }: { of: Schemas["Learner"]; rubrics: Schemas["Rubric"][] }) {
  const rubric = rubrics.find((r) => r.skill === of.next);
  const standing = of.skills.find((s) => s.skill === of.next)?.evidence;
  if (!rubric) return null;
  return (
    <Panel title={`Next for you: ${of.next}`} aside={standing && <Tag tone="tide">{Math.round(100 * standing.mean)} % well done</Tag>}>
      {standing && <p>{standing.says}</p>}
      {of.skills
        .filter((s) => s.skill === of.next)
        .map((s) => (
          <Needs key={s.skill} of={s} />
        ))}
      <LinkButton to={`/training/lessons/${of.next ?? ""}`} className="mt-2">
        Read the lesson
      </LinkButton>
      <LinkButton to="/times/learning" className="mt-2 ml-2">
        Your curve
      </LinkButton>
      <p className="mt-2 font-semibold">Your next wash is watched for</p>
      <ul className="mt-1 grid list-disc gap-0.5 pl-5">
        {rubric.criteria.map((c) => (
          <li key={c.id}>
            {c.text} {c.must && <span className="text-sm text-faded">(must)</span>}
          </li>
        ))}
      </ul>
    </Panel>
  );
}

/** Whether a skill is signed off, and what the evidence says: how often its work is likely well done. */
function Standing({ of }: { of: Schemas["SkillHeld"] }) {
  const e = of.evidence;
  const when = of.at ? `${of.held ? "Signed off" : "Not yet"} ${day(of.at)} by ${of.by}.` : "Not watched yet.";
  return (
    <details className="group">
      <summary className="hit flex min-w-hit cursor-pointer items-center gap-1.5">
        {of.held ? (
          <Check className="text-moss" size={20} aria-label="signed off" />
        ) : of.lapses ? (
          <RotateCcw className="text-rust" size={18} aria-label="lapsed, watch it again" />
        ) : (
          <Circle className="text-faded" size={16} aria-label={of.at ? "watched, not yet" : "not watched yet"} />
        )}
        {e && e.of && e.of.length > 0 && <span className="num text-sm whitespace-nowrap">{Math.round(100 * e.mean)} %</span>}
      </summary>
      <p className="max-w-56 text-sm">
        {e && (
          <>
            {e.says} Well done {Math.round(100 * e.low)} to {Math.round(100 * e.high)} %.{" "}
          </>
        )}
        {when}
        {of.lapses && ` ${of.held ? "It lapses" : "It lapsed"} on ${day(of.lapses)}.`}
        {(of.findings ?? 0) > 0 && ` ${plural(of.findings ?? 0, "finding")} of it in 30 days.`}
      </p>
      <Needs narrow of={of} />
      <LinkButton look="quiet" className="min-h-hit px-0!" to={`/training/lessons/${of.skill}`}>
        Lesson
      </LinkButton>
    </details>
  );
}

/** How far somebody is on the way to a sign-off. */
function Needs({ of, narrow = false }: { of: Schemas["SkillHeld"]; narrow?: boolean }) {
  if (!of.needs || of.needs.length === 0 || (of.held && !of.refresher)) return null;
  return (
    <ul className={`mt-1 text-sm ${narrow ? "max-w-56" : ""}`}>
      {of.needs.map((n) => (
        <li key={n.says} className={n.met ? "text-moss" : ""}>
          {n.met ? "✓" : "○"} {`${n.have} of ${n.want} ${n.says}`}
        </li>
      ))}
    </ul>
  );
}

const marked = ["not seen", "with help", "alone"];

/** The washes that were watched for a skill, each with what was marked: what a trainer goes by. */
function Watched({ of, criteria }: { of: Schemas["SkillHeld"]; criteria: Schemas["Rubric"]["criteria"] }) {
  const washes = of.watched ?? [];
  if (washes.length === 0) return <p className="text-sm text-faded">No wash of theirs was watched for this yet.</p>;
  return (
    <div className="grid gap-1.5">
      <h3 className="font-semibold">{plural(washes.length, "wash was", "washes were")} watched for this</h3>
      <ul className="grid gap-1.5 text-sm">
        {washes.slice(0, 5).map((w) => (
          <li key={w.washId} className="rounded-lg bg-chalk p-2">
            <b>{w.label}</b>, {day(w.at)}
            <ul className="mt-0.5">
              {criteria.map(
                (c) =>
                  w.marks[c.id] !== undefined && (
                    <li key={c.id}>
                      {c.text}: <b>{marked[w.marks[c.id] ?? 0]}</b>
                    </li>
                  ),
              )}
            </ul>
          </li>
        ))}
      </ul>
    </div>
  );
}

function SignOff({ people, rubrics }: { people: Schemas["Learner"][]; rubrics: Schemas["Rubric"][] }) {
  const queries = useQueryClient();
  const trainees = [...people].sort((a, b) => Number(b.role === "trainee") - Number(a.role === "trainee"));
  const [personId, setPerson] = useState("");
  const [skill, setSkill] = useState<Schemas["Skill"] | "">("");
  const [ticked, setSeen] = useState<Record<string, boolean>>({});
  const person = trainees.find((p) => p.id === personId) ?? trainees[0];
  const rubric = rubrics.find((r) => r.skill === (skill || person?.next)) ?? rubrics[0];
  const [washId, setWash] = useState("");
  const known = person?.skills.find((s) => s.skill === rubric?.skill);
  const seen = ticked; // nothing is ticked beforehand: each criterion is the trainer's own word
  const finished = useQuery({
    queryKey: keys.times("washes", 14),
    queryFn: () => ask(client.GET("/times/washes", { params: { query: { days: 14 } } })),
  });
  const washes = (finished.data ?? []).filter((w) => w.washer.id === person?.id);
  const watched = washes.some((w) => w.id === washId) ? washId : "";
  const save = useMutation({
    mutationFn: () =>
      ask(
        client.POST("/sign-offs", {
          body: {
            personId: person?.id ?? "",
            skill: rubric?.skill ?? "scope",
            ...(watched ? { washId: watched } : {}),
            criteria: Object.fromEntries((rubric?.criteria ?? []).map((c) => [c.id, seen[c.id] ?? false])),
          },
        }),
      ),
    onSuccess: () => {
      setSeen({});
      setSkill("");
      void queries.invalidateQueries({ queryKey: keys.training() });
      void queries.invalidateQueries({ queryKey: keys.plan() });
    },
  });
  if (!person || !rubric) return null;
  const ready = rubric.criteria.every((c) => !c.must || seen[c.id]);
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate();
  };
  return (
    <Panel title="Sign off a watched wash">
      <form onSubmit={submit} className="grid gap-3">
        <div className="grid grid-cols-2 gap-2">
          <Select
            label="Who"
            value={person.id}
            onChange={(v) => (setPerson(v), setSkill(""), setSeen({}))}
            options={trainees.map((p) => ({ value: p.id, label: `${p.name}, ${p.role}` }))}
          />
          <Select label="Skill" value={rubric.skill} onChange={(v) => (setSkill(v), setSeen({}))} options={rubrics.map((r) => r.skill)} />
        </div>
        <Select
          label="Which wash was watched"
          value={watched}
          onChange={setWash}
          options={[
            { value: "", label: washes.length ? "Watched, but not one of these washes" : "No finished wash of theirs in two weeks" },
            ...washes.map((w) => ({ value: w.id, label: `${w.label}, ${day(w.at)} ${hour(w.at)}, ${minutes(w.actual)}` })),
          ]}
        />
        {known && <Needs of={known} />}
        {known && <Watched of={known} criteria={rubric.criteria} />}
        <ul className="grid gap-1">
          {rubric.criteria.map((c) => (
            <li key={c.id}>
              <Tick
                label={
                  <>
                    {" "}
                    {c.text} {c.must && <span className="text-sm text-faded">(must)</span>}{" "}
                  </>
                }
                on={seen[c.id] ?? false}
                onChange={(on) => setSeen({ ...ticked, [c.id]: on })}
              />
            </li>
          ))}
        </ul>
        {save.error && <Trouble error={save.error} />}
        {save.data && !save.isPending && <p role="status">Saved for {save.data.name}.</p>}
        <Button look="act" type="submit" disabled={save.isPending}>
          {ready ? `Sign ${person.name} off for ${rubric.skill}` : "Save as not yet"}
        </Button>
      </form>
    </Panel>
  );
}
