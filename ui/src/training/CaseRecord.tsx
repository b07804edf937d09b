import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { type Schemas, ask, client } from "../api/client";
import { keys, stale } from "../api/keys";
import { useMay, useMe } from "../api/shop";
import { Entry, LinesField, PickField, TextField, useEntry } from "../kit/form";
import { plural } from "../kit/format";
import { Button, Empty, LinkButton, Panel, Table } from "../kit/kit";
import { Photos, TakePhoto, useWaiting } from "../photo/Photos";

const useRecords = () => useQuery({ queryKey: keys.cases("records"), queryFn: () => ask(client.GET("/cases")) });

type Record = Schemas["CaseRecord"];

/** The first thing on a trainee's page: what to decide now; for whoever signs off, how everybody stands. */
export function CasesToday() {
  const records = useRecords();
  const me = useMe().data;
  const all = useMay()("sign off");
  if (!records.data) return null;
  const mine = records.data.people.find((p) => p.person.id === me?.id);
  return (
    <Panel title="Cases: what would you do?">
      <div className="flex flex-wrap items-center justify-between gap-3">
        <p className="max-w-prose">
          {mine && mine.due > 0
            ? `${plural(mine.due, "kind")} of case due. Three take five minutes, between two cars.`
            : "Nothing is due; practising ahead does no harm."}
        </p>
        <LinkButton look="act" to="/training/cases">
          Three cases
        </LinkButton>
      </div>
      <div className="mt-3">{all ? <Everybody people={records.data.people} /> : mine && <Known of={mine} />}</div>
    </Panel>
  );
}

/** What somebody knows, skill by skill: answers of all that were right, and how much is still likely known. */
function Known({ of }: { of: Record }) {
  const skills = bySkill(of);
  if (skills.length === 0) return null;
  return (
    <Table caption="What you know" head={["Skill", "Right", "Likely known now"]}>
      {skills.map((s) => (
        <tr key={s.skill}>
          <th scope="row">{s.skill}</th>
          <td className="num whitespace-nowrap">
            {s.right} of {s.answered}
          </td>
          <td>
            <Bar share={s.chance} label={s.skill} />
          </td>
        </tr>
      ))}
    </Table>
  );
}

function Everybody({ people }: { people: Record[] }) {
  return (
    <Table stacks caption="Cases by person" head={["", "Answered", "Right", "Weakest", "Likely known now"]}>
      {people.map((p) => {
        const skills = bySkill(p);
        const sum = (of: "answered" | "right") => skills.reduce((n, s) => n + s[of], 0);
        const weakest = skills.filter((s) => s.answered >= 3).sort((a, b) => a.right / a.answered - b.right / b.answered)[0];
        return (
          <tr key={p.person.id}>
            <th scope="row">{p.person.name}</th>
            <td data-head="Answered" className="num">
              {sum("answered")}
            </td>
            <td data-head="Right" className="num">
              {sum("answered") > 0 ? `${Math.round((100 * sum("right")) / sum("answered"))} %` : "–"}
            </td>
            <td data-head="Weakest">{weakest && weakest.right < weakest.answered ? weakest.skill : "–"}</td>
            <td data-head="Likely known now">
              <Bar share={skills.length ? skills.reduce((n, s) => n + s.chance, 0) / skills.length : 0} label={p.person.name} />
            </td>
          </tr>
        );
      })}
    </Table>
  );
}

function Bar({ share, label }: { share: number; label: string }) {
  const percent = Math.round(100 * share);
  return (
    <span className="flex items-center gap-2">
      <span className="h-3 w-24 overflow-hidden rounded-full border border-line" aria-hidden>
        <span className="block h-full bg-tide" style={{ width: `${percent}%` }} />
      </span>
      <span className="num whitespace-nowrap" aria-label={`${label}: ${percent} percent`}>
        {percent} %
      </span>
    </span>
  );
}

function bySkill(of: Record) {
  const skills = new Map<string, { skill: string; answered: number; right: number; chances: number[] }>();
  for (const k of of.kinds) {
    if (k.answered === 0) continue;
    const s = skills.get(k.skill) ?? { skill: k.skill, answered: 0, right: 0, chances: [] };
    s.answered += k.answered;
    s.right += k.right;
    s.chances.push(k.chance);
    skills.set(k.skill, s);
  }
  return [...skills.values()].map((s) => ({ ...s, chance: s.chances.reduce((a, b) => a + b, 0) / s.chances.length }));
}

interface Draft {
  title: string;
  skill: Schemas["Skill"];
  scene: string;
  ask: string;
  right: string;
  wrong: string;
  because: string;
}

const blank: Draft = { title: "", skill: "scope", scene: "", ask: "", right: "", wrong: "", because: "" };

/** Cases that the lead writes: what only this shop can ask. */
export function OwnCases({ skills }: { skills: Schemas["Skill"][] }) {
  const records = useRecords();
  const queries = useQueryClient();
  const [writing, setWriting] = useState(false);
  const out = useMutation({
    mutationFn: (id: string) => ask(client.DELETE("/own-cases/{id}", { params: { path: { id } } })),
    onSuccess: () => stale(queries, keys.cases("records")),
  });
  const own = records.data?.own ?? [];
  return (
    <Panel title="Cases of your own">
      {own.length === 0 && <Empty>Write what only your shop can ask: the gate, the ramp, the customer who waits.</Empty>}
      <ul className="grid gap-1">
        {own.map((c) => (
          <li key={c.id} className="grid gap-2 border-b border-line py-1">
            <div className="flex items-center justify-between gap-3">
              <span>
                <b>{c.title}</b> <span className="text-sm text-faded">{c.skill}</span>
              </span>
              <Button onClick={() => out.mutate(c.id)} disabled={out.isPending}>
                Take out
              </Button>
            </div>
            <ItsPhotos id={c.id} photos={(records.data?.photos ?? []).filter((p) => p.case === c.id).map((p) => p.photo)} />
          </li>
        ))}
      </ul>
      {writing ? (
        <WriteOne skills={skills} done={() => setWriting(false)} />
      ) : (
        <Button className="mt-2" onClick={() => setWriting(true)}>
          Write a case
        </Button>
      )}
    </Panel>
  );
}

/** What a case shows beside its words: none but drawn or taken for it. */
function ItsPhotos({ id, photos }: { id: string; photos: Schemas["PhotoView"][] }) {
  const queries = useQueryClient();
  const waiting = useWaiting({ subject: "case", of: id });
  return (
    <details>
      <summary className="hit min-h-hit content-center text-sm">{plural(photos.length + waiting.length, "photo")}</summary>
      <div className="grid gap-2 pb-2">
        <Photos
          title="What it looks like"
          photos={photos}
          waiting={waiting}
          name={(z) => z}
          of={id}
          dropped={() => stale(queries, keys.cases())}
        />
        <TakePhoto subject="case" of={id} zone="" what="the case" />
      </div>
    </details>
  );
}

function WriteOne({ skills, done }: { skills: Schemas["Skill"][]; done: () => void }) {
  const queries = useQueryClient();
  const entry = useEntry({
    start: blank,
    save: ({ right, wrong, ...rest }: Draft) =>
      ask(client.POST("/own-cases", { body: { id: "", ...rest, choices: [right, ...wrong.split("\n").filter((line) => line.trim())] } })),
    said: "Written: it is dealt with the others.",
    onSaved: () => {
      stale(queries, keys.cases());
      done();
    },
  });
  const { form } = entry;
  const needed = { required: "write it" };
  return (
    <Entry of={entry} act="Save the case" more={<Button onClick={done}>Not now</Button>} className="mt-3 grid gap-3" label="A case">
      <TextField form={form} name="title" label="Title of the case" maxLength={80} rules={needed} />
      <PickField form={form} name="skill" label="Skill it asks for" options={skills} />
      <LinesField form={form} name="scene" label="What is known, a line each" maxLength={600} />
      <TextField form={form} name="ask" label="The question" maxLength={300} rules={needed} />
      <TextField form={form} name="right" label="The right answer" maxLength={200} rules={needed} />
      <LinesField form={form} name="wrong" label="Wrong answers, a line each" maxLength={600} rules={{ required: "one at least" }} />
      <LinesField form={form} name="because" label="Why it is right" maxLength={600} rules={needed} />
    </Entry>
  );
}
