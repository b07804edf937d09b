import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { ArrowDown, ArrowUp, Trash2 } from "lucide-react";
import { useParams } from "react-router";
import { useDeferredValue, useState } from "react";
import { type Schemas, ask, client } from "../api/client";
import { keys, stale } from "../api/keys";
import { useMay, useWords } from "../api/shop";
import { day, plural, sentence } from "../kit/format";
import { Button, Field, Head, inputLook, LinkButton, Loading, Panel, Select, Tick, Trouble } from "../kit/kit";
import { say } from "../kit/notice";
import { Num } from "../kit/number";
import { dropDraft } from "../offline/draft";
import { newId } from "../offline/ids";
import { Condition } from "../kit/Condition";
import { Doubts } from "./Lists";
import { draftKey, isFresh, useListDraft } from "./useListDraft";

type List = Schemas["Checklist"];
type Item = Schemas["Item"];
type Kind = Item["kinds"][number];
type Severity = Schemas["Finding"]["severity"];

/** A checklist is read by everybody, and written by the lead. */
export function WriteList() {
  const { id = "" } = useParams();
  const fresh = isFresh(id); // begun on this device, and not published yet
  const versions = useQuery({
    queryKey: keys.checklist(id),
    queryFn: () => ask(client.GET("/checklists/{id}", { params: { path: { id } } })),
    enabled: !fresh,
  });
  if (fresh && !versions.data) return <Editor key={id} id={id} versions={[]} />;
  if (versions.isPending) return <Loading what="the checklist" />;
  if (!versions.data) return <Trouble error={versions.error} retry={() => void versions.refetch()} />;
  return <Editor key={`${id} ${versions.data[0]?.list.version ?? 0}`} id={id} versions={versions.data} />;
}

function Editor({ id, versions }: { id: string; versions: Schemas["ChecklistView"][] }) {
  const writes = useMay()("write procedures");
  const queries = useQueryClient();
  const newest = versions[0]?.list;
  const { list, set, back, changed } = useListDraft(id, newest);
  const [at, setAt] = useState(0);
  const tidied: List = { ...list, version: newest?.version ?? 0 };
  const later = useDeferredValue(tidied);
  const tried = useQuery({
    queryKey: keys.checklist("tried", later),
    queryFn: () => ask(client.POST("/checklists-tried", { body: later })),
    enabled: writes && later.items.length > 0,
    placeholderData: (last) => last,
    gcTime: 10_000,
    retry: false,
  });
  const publish = useMutation({
    mutationFn: () =>
      ask(client.PUT("/checklists/{id}", { params: { path: { id } }, body: { version: newest?.version ?? 0, list: tidied } })),
    onSuccess: (saved) => {
      dropDraft(draftKey(id));
      queries.setQueryData(keys.checklist(id), saved);
      stale(queries, keys.checklists());
      say(`Version ${saved[0]?.list.version} of ${list.title} is published.`);
    },
  });
  const items = list.items;
  const item = items[Math.min(at, items.length - 1)];
  const change = (c: Partial<Item>) => set({ items: items.map((x) => (x === item ? { ...x, ...c } : x)) });
  const move = (from: number, to: number) => {
    const next = items.filter((_, i) => i !== from);
    const moved = items[from];
    if (!moved || to < 0 || to >= items.length) return;
    next.splice(to, 0, moved);
    set({ items: next });
    setAt(to);
  };
  const add = () => {
    set({
      items: [
        ...items,
        { id: `look-${newId().slice(0, 8)}`, title: "A new look", how: "", zones: "paint", kinds: ["dirt left"], when: {} },
      ],
    });
    setAt(items.length);
  };
  return (
    <>
      <Head
        title={list.title}
        sub={writes ? "Kept on this device as you write; audits that begin after it is published use it." : (list.about ?? "")}
      >
        <LinkButton to="/audits/lists">Checklists</LinkButton>
        {newest && (
          <>
            {(["markdown", "csv", "json"] as const).map((f) => (
              <a
                key={f}
                download
                className="hit grid min-w-hit place-items-center rounded-xl px-2 text-tide underline underline-offset-4"
                href={`/api/checklists/${id}/export?format=${f}`}
              >
                {{ markdown: "Text", csv: "Table", json: "Document" }[f]}
              </a>
            ))}
          </>
        )}
        {writes && changed && <Button onClick={back}>{newest ? `Back to version ${newest.version}` : "Start over"}</Button>}
        {writes && (
          <Button look="act" disabled={publish.isPending || !changed} onClick={() => publish.mutate()}>
            Publish
          </Button>
        )}
      </Head>
      {publish.error && <Trouble error={publish.error} />}
      <div className="grid gap-4 lg:grid-cols-[20rem_minmax(0,1fr)]">
        <div className="grid content-start gap-4">
          <Panel title="The walk" aside={plural(items.length, "look")}>
            <ol className="grid gap-1">
              {items.map((i, n) => (
                <li key={i.id}>
                  <button
                    type="button"
                    aria-pressed={i === item}
                    className={`min-h-hit w-full rounded-lg px-2 text-left ${i === item ? "bg-tide-wash font-bold" : "hover:bg-chalk"}`}
                    onClick={() => setAt(n)}
                  >
                    {`${n + 1}. ${i.title}`}
                  </button>
                </li>
              ))}
            </ol>
            {writes && (
              <Button className="mt-2" onClick={add}>
                Add a look
              </Button>
            )}
            <Tried tried={tried.data} error={tried.error} />
          </Panel>
          <Versions versions={versions} />
        </div>
        <div className="grid content-start gap-4">
          {item && (
            <fieldset disabled={!writes} className="grid gap-4">
              <Look key={item.id} item={item} change={change}>
                {writes && (
                  <div className="flex gap-2">
                    <Button aria-label="Earlier" className="min-w-hit" onClick={() => move(items.indexOf(item), items.indexOf(item) - 1)}>
                      <ArrowUp size={18} />
                    </Button>
                    <Button aria-label="Later" className="min-w-hit" onClick={() => move(items.indexOf(item), items.indexOf(item) + 1)}>
                      <ArrowDown size={18} />
                    </Button>
                    <Button
                      aria-label={`Take out ${item.title}`}
                      className="min-w-hit"
                      onClick={() => (set({ items: items.filter((x) => x !== item) }), setAt(0))}
                    >
                      <Trash2 size={18} />
                    </Button>
                  </div>
                )}
              </Look>
            </fieldset>
          )}
          <fieldset disabled={!writes}>
            <Whole list={list} set={set} />
          </fieldset>
        </div>
      </div>
    </>
  );
}

/** How far one walks for it, and what an old hand would doubt. */
function Tried({ tried, error }: { tried: Schemas["ChecklistView"] | undefined; error: unknown }) {
  if (error) return <Trouble error={error} />;
  if (!tried) return null;
  return (
    <div className="mt-3 border-t border-line pt-2">
      <p className="text-sm">{`${Math.round(tried.way.metres)} m round the car.`}</p>
      <Doubts doubts={tried.doubts} />
    </div>
  );
}

function Versions({ versions }: { versions: Schemas["ChecklistView"][] }) {
  if (versions.length === 0) return null;
  return (
    <Panel title="Versions">
      <ul className="grid gap-2">
        {versions.map((v) => (
          <li key={v.list.version} className="border-t border-line pt-1">
            <b>{v.list.version === 0 ? "What Uskel brings" : `Version ${v.list.version}`}</b>
            {v.at && <span className="text-sm text-faded">{` ${day(v.at)}${v.by ? `, ${v.by}` : ""}`}</span>}
            {v.changed.map((c) => (
              <span key={c} className="block text-sm">
                {c}
              </span>
            ))}
          </li>
        ))}
      </ul>
    </Panel>
  );
}

const sides = [
  { value: "", label: "The whole car" },
  { value: "front", label: "Front" },
  { value: "left", label: "Left side" },
  { value: "rear", label: "Rear" },
  { value: "right", label: "Right side" },
  { value: "top", label: "Roof and screens" },
] as const;

interface LookProps {
  item: Item;
  change: (c: Partial<Item>) => void;
  children: React.ReactNode;
}

/** One look: what, how, done when, what it finds and how bad that is, what it lets pass, and when it is asked. */
function Look({ item, change, children }: LookProps) {
  const zones = (useWords().data?.lists.zones ?? [item.zones]).filter((z) => z !== "chosen zones"); // a step's own
  const text = (key: "title" | "how" | "done", label: string, most: number, hint?: string) => (
    <Field label={label} {...(hint && { hint })}>
      <input className={inputLook} maxLength={most} value={item[key] ?? ""} onChange={(e) => change({ [key]: e.target.value })} />
    </Field>
  );
  return (
    <Panel title="This look" aside={children}>
      <div className="grid gap-3">
        {text("title", "What is looked at", 120)}
        {text("how", "How", 300, "light, stance, touch, cloth, what is opened")}
        {text("done", "Done when", 200, "so that two people answer it alike")}
        <div className="grid gap-3 sm:grid-cols-2">
          <Field label="Where">
            <Select
              value={item.zones}
              onChange={(z) => change({ zones: z })}
              options={zones.map((z) => ({ value: z as Item["zones"], label: sentence(z) }))}
            />
          </Field>
          <Field label="Which side">
            <Select
              value={item.side ?? ""}
              onChange={(side) => change({ side })}
              options={sides.map((s) => ({ value: s.value as NonNullable<Item["side"]>, label: s.label }))}
            />
          </Field>
        </div>
        <Kinds item={item} change={change} />
        <div className="grid gap-3 sm:grid-cols-2">
          <Field label="A finding weighs">
            <Select
              value={String(item.weight ?? 1)}
              onChange={(w) => change({ weight: Number(w) })}
              options={["1", "2", "3"].map((w) => ({ value: w, label: w === "1" ? "once" : w === "2" ? "twice" : "three times" }))}
            />
          </Field>
          <Tick label="Needs light: stays open at dusk" on={item.light ?? false} onChange={(light) => change({ light })} />
          <Tick label="A finding wants a photo" on={item.photo ?? false} onChange={(photo) => change({ photo })} />
        </div>
        <ReadingFields item={item} change={change} />
        <Condition rule={item.when} onChange={(when) => change({ when })} label="Asked" />
      </div>
    </Panel>
  );
}

/** A number that a look asks for, and what a pass lies within. */
function ReadingFields({ item, change }: Omit<LookProps, "children">) {
  const r = item.reading;
  const set = (next: Partial<NonNullable<Item["reading"]>>) => {
    const { what, unit, least, most } = { what: "", ...r, ...next };
    change({ reading: { what, ...(unit && { unit }), ...(least !== undefined && { least }), ...(most !== undefined && { most }) } });
  };
  return (
    <div className="grid gap-3">
      <Tick
        label="It wants a reading"
        on={r !== undefined}
        onChange={(on) => change({ reading: on ? { what: "What is read" } : undefined } as Partial<Item>)}
      />
      {r && (
        <div className="grid gap-3 sm:grid-cols-[2fr_1fr_1fr_1fr]">
          <Field label="What is read">
            <input className={inputLook} maxLength={60} value={r.what} onChange={(e) => set({ what: e.target.value })} />
          </Field>
          <Field label="Unit">
            <input className={inputLook} maxLength={16} value={r.unit ?? ""} onChange={(e) => set({ unit: e.target.value })} />
          </Field>
          <Field label="No less than">
            <Num value={r.least} onChange={(least) => set({ least } as typeof r)} />
          </Field>
          <Field label="No more than">
            <Num value={r.most} onChange={(most) => set({ most } as typeof r)} />
          </Field>
        </div>
      )}
    </div>
  );
}

/** What a look may find: how bad each usually is, and how much of it is let pass. */
function Kinds({ item, change }: Omit<LookProps, "children">) {
  const all = useWords().data?.lists.findings ?? [];
  const lets = item.lets ?? [];
  const drop = (k: Kind) => {
    const usual = Object.fromEntries(Object.entries(item.usual ?? {}).filter(([of]) => of !== k)) as NonNullable<Item["usual"]>;
    change({ kinds: item.kinds.filter((x) => x !== k), lets: lets.filter((l) => l.kind !== k), usual });
  };
  const letPass = (k: Kind, most: string, unit: "number" | "%") => {
    const others = lets.filter((l) => l.kind !== k);
    change({ lets: most === "" ? others : [...others, { kind: k, most: Math.min(100, Math.max(0, Number(most) || 0)), unit }] });
  };
  return (
    <div role="group" aria-label="What it may find" className="grid gap-2">
      <div className="grid gap-2 sm:grid-cols-[1fr_8rem_9rem_52px]">
        <p className="font-semibold">What it may find</p>
        <span className="text-sm text-faded max-sm:hidden">usually</span>
        <span className="text-sm text-faded max-sm:hidden">let pass, up to</span>
      </div>
      {item.kinds.map((k) => {
        const l = lets.find((x) => x.kind === k);
        return (
          <div key={k} className="grid items-end gap-2 border-t border-line pt-2 sm:grid-cols-[1fr_8rem_9rem_52px]">
            <span className="self-center font-medium">{sentence(k)}</span>
            <Select
              label={`${sentence(k)} is usually`}
              value={item.usual?.[k] ?? "minor"}
              onChange={(s) => change({ usual: { ...item.usual, [k]: s as Severity } })}
              options={["minor", "major", "critical"]}
            />
            <span className="flex gap-1">
              <input
                className={inputLook}
                type="number"
                min={0}
                max={100}
                aria-label={`Let pass of ${k}`}
                placeholder="none"
                value={l?.most ?? ""}
                onChange={(e) => letPass(k, e.target.value, l?.unit ?? "number")}
              />
              <Button
                aria-label={`${l?.unit === "%" ? "%" : "no."}, how ${k} is counted`}
                disabled={!l}
                onClick={() => letPass(k, String(l?.most ?? 0), l?.unit === "%" ? "number" : "%")}
              >
                {l?.unit === "%" ? "%" : "no."}
              </Button>
            </span>
            <Button aria-label={`Do not look for ${k}`} className="min-w-hit" onClick={() => drop(k)}>
              <Trash2 size={18} />
            </Button>
          </div>
        );
      })}
      <Select
        label="Also look for"
        value=""
        onChange={(k) => k && change({ kinds: [...item.kinds, k as Kind] })}
        options={[
          { value: "", label: "Also look for…" },
          ...all.filter((k) => !item.kinds.includes(k as Kind)).map((k) => ({ value: k as string, label: sentence(k) })),
        ]}
      />
    </div>
  );
}

function Whole({ list, set }: { list: List; set: (c: Partial<List>) => void }) {
  const families = useWords().data?.lists.families ?? [];
  return (
    <Panel title="The list itself">
      <div className="grid gap-3">
        <Field label="Title">
          <input className={inputLook} maxLength={80} value={list.title} onChange={(e) => set({ title: e.target.value })} />
        </Field>
        <Field label="What it is for">
          <input className={inputLook} maxLength={300} value={list.about ?? ""} onChange={(e) => set({ about: e.target.value })} />
        </Field>
        <Field label="When it is walked">
          <Select
            value={list.at ?? ""}
            onChange={(at) => set({ at: at || undefined } as Partial<List>)}
            options={[
              { value: "", label: "Round the finished car" },
              { value: "before the mitt" as const, label: "In the bay, before the mitt" },
              { value: "before drying" as const, label: "In the bay, before drying" },
              { value: "before hand-over" as const, label: "In the bay, before hand-over" },
            ]}
          />
        </Field>
        {list.at && <p className="text-sm text-faded">Whoever washes makes it, one look at a time; what is found is put right at once.</p>}
        <Tick label="Only when an auditor chooses it" on={list.onRequest ?? false} onChange={(onRequest) => set({ onRequest })} />
        <Condition rule={list.when} onChange={(when) => set({ when })} label="For which washes" />
        <details>
          <summary className="min-h-hit content-center font-semibold">{`Methods: ${(list.families ?? []).join(", ") || "any"}`}</summary>
          <div className="grid gap-x-3 sm:grid-cols-2">
            {families.map((f) => (
              <Tick
                key={f.family}
                label={`${f.family} ${f.title}`}
                on={list.families?.includes(f.family) ?? false}
                onChange={(on) =>
                  set({ families: on ? [...(list.families ?? []), f.family] : (list.families ?? []).filter((x) => x !== f.family) })
                }
              />
            ))}
          </div>
        </details>
      </div>
    </Panel>
  );
}
