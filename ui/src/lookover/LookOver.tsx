import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type ReactNode, useDeferredValue, useEffect, useState } from "react";
import { useNavigate, useParams } from "react-router";
import { type Schemas, ask, client, Problem } from "../api/client";
import { useWords, useMay } from "../api/shop";
import { Car } from "../car/Car";
import type { Zone } from "../car/shape";
import { hour, minutes, sentence } from "../kit/format";
import { Button, Choice, Field, Head, inputLook, LinkButton, Loading, Select, Tag, Tick, Trouble } from "../kit/kit";
import { draftOf, dropDraft, keepDraft } from "../offline/draft";

type Look = Schemas["LookOver"];
type Matter = Schemas["Matter"];

export function LookOver() {
  const { id = "" } = useParams();
  const saved = useQuery({
    queryKey: ["look-over", id],
    queryFn: () => ask(client.GET("/bookings/{id}/look-over", { params: { path: { id } } })),
    staleTime: Infinity,
  });
  if (saved.isPending) return <Loading what="the vehicle" />;
  if (!saved.data) return <Trouble error={saved.error} retry={() => void saved.refetch()} />;
  return <Sheet key={`${id}-${saved.data.version}`} id={id} view={saved.data} />;
}

/** The draft on this device, whichever version it was made from. */
const draftKey = (id: string) => `look-over.${id}`;

interface Draft {
  version: number;
  look: Look;
}

function Sheet({ id, view }: { id: string; view: Schemas["LookOverView"] }) {
  const looks = useMay()("look over");
  const words = useWords().data;
  const queries = useQueryClient();
  const go = useNavigate();
  const editable = looks && !view.booking.washId;
  const [draft] = useState(() => draftOf<Draft>(draftKey(id)));
  const kept = draft?.version === view.version ? draft.look : null;
  const [overtaken, setOvertaken] = useState(draft && !kept ? draft.look : null);
  const [look, setLook] = useState<Look>(kept ?? view.lookOver);
  const [zone, setZone] = useState<Zone | null>(null);
  const [brush, setBrush] = useState<number | null>(null);
  const [matter, setMatter] = useState<Matter>("bugs");
  const [flagging, setFlagging] = useState(false);

  const change = (next: Look) => {
    setLook(next);
    setOvertaken(null);
    keepDraft(draftKey(id), { version: view.version, look: next });
  };
  const later = useDeferredValue(look);
  const judged = useQuery({
    queryKey: ["judge", id, later],
    queryFn: () => ask(client.POST("/bookings/{id}/judge", { params: { path: { id } }, body: later })),
    placeholderData: keepPreviousData,
    enabled: editable,
    gcTime: 10_000,
  });
  const save = useMutation({
    mutationFn: () =>
      ask(client.PUT("/bookings/{id}/look-over", { params: { path: { id } }, body: { version: view.version, lookOver: look } })),
    onSuccess: (now) => {
      dropDraft(draftKey(id));
      queries.setQueryData(["look-over", id], now);
      void queries.invalidateQueries({ queryKey: ["yard"] });
      void queries.invalidateQueries({ queryKey: ["plan", id] });
      void go(`/plan/${id}`);
    },
  });
  useEffect(() => {
    document.title = `Look-over: ${view.booking.label} · Uskel`;
  }, [view.booking.label]);

  const grade = (z: Zone, g: number) => change({ ...look, grades: { ...look.grades, [z]: g } });
  const flag = (z: Zone) => {
    const has = look.bonded.some((b) => b.zone === z && b.matter === matter);
    change({
      ...look,
      bonded: has ? look.bonded.filter((b) => !(b.zone === z && b.matter === matter)) : [...look.bonded, { zone: z, matter }],
    });
  };
  const pick = (z: Zone) => {
    setZone(z);
    if (!editable) return;
    if (flagging) flag(z);
    else if (brush !== null) grade(z, brush);
  };
  const key = (z: Zone, k: string) => {
    if (!editable) return false;
    if (/^[0-4]$/.test(k)) grade(z, Number(k));
    else if (k === "b") flag(z);
    else return false;
    setZone(z);
    return true;
  };
  const body = view.booking.spec.body;
  const parts = words?.bodies.find((b) => b.body === body)?.parts ?? [];
  const part = parts.find((x) => x.zone === zone);
  const fillRest = (g: number) => change({ ...look, grades: { ...Object.fromEntries(parts.map((x) => [x.zone, g])), ...look.grades } });
  const assessment = judged.data?.assessment ?? view.assessment;

  return (
    <>
      <Head
        title={`Look-over: ${view.booking.label}`}
        sub={
          <>
            <span className="num">{view.booking.plate}</span> · {view.booking.place.name} · promised {hour(view.booking.promisedAt)}
            {view.by && view.at && ` · looked over by ${view.by} at ${hour(view.at)}`}
            {kept && " · your unsaved draft"}
          </>
        }
      >
        {view.booking.washId ? (
          <LinkButton to={`/bay/${view.booking.washId}`}>To the bay</LinkButton>
        ) : editable ? (
          <Button look="act" disabled={save.isPending} onClick={() => save.mutate()} className="min-h-hit px-6">
            Save and plan
          </Button>
        ) : (
          view.version > 0 && <LinkButton to={`/plan/${id}`}>Plan</LinkButton>
        )}
      </Head>
      {save.error && (
        <div className="mb-3 grid gap-2">
          <Trouble error={save.error} {...(save.error instanceof Problem && save.error.stale ? {} : { retry: () => save.mutate() })} />
          {save.error instanceof Problem && save.error.stale && (
            <Button onClick={() => void queries.invalidateQueries({ queryKey: ["look-over", id] })} className="justify-self-start">
              Show theirs; mine is kept
            </Button>
          )}
        </div>
      )}
      {overtaken && editable && (
        <p className="mb-3 flex flex-wrap items-center gap-3 rounded-xl border-2 border-amber bg-amber-wash px-3 py-2">
          <span className="grow">
            This is {view.by ? `${view.by}’s` : "the saved"} look-over. Your unsaved one from before is still on this device.
          </span>
          <Button onClick={() => change(overtaken)}>Use mine</Button>
          <Button
            onClick={() => {
              dropDraft(draftKey(id));
              setOvertaken(null);
            }}
          >
            Drop mine
          </Button>
        </p>
      )}
      <div className="grid gap-4 lg:grid-cols-[minmax(0,1fr)_22.5rem]">
        <div className="min-w-0">
          <div className="rounded-2xl border border-line bg-paper p-3">
            <Car
              body={body}
              grades={look.grades}
              selected={zone}
              onPick={pick}
              onKey={key}
              pins={look.bonded.map((b) => ({
                zone: b.zone,
                label: b.matter.charAt(0).toUpperCase(),
                tone: inScope(words, b.matter) ? "amber" : "rust",
              }))}
              className="mx-auto max-h-[calc(100dvh-17.5rem)] min-h-72"
            />
          </div>
          {editable && (
            <>
              <div className="mt-3 grid grid-cols-5 gap-1.5" role="group" aria-label="Soil grade">
                {words?.grades.map((g) => {
                  const active = !flagging && (zone && brush === null ? look.grades[zone] === g.grade : brush === g.grade);
                  return (
                    <button
                      key={g.grade}
                      type="button"
                      aria-pressed={active}
                      title={g.looks}
                      onClick={() => {
                        setFlagging(false);
                        setBrush(brush === g.grade ? null : g.grade);
                        if (zone && brush === null) grade(zone, g.grade);
                      }}
                      className={`flex min-h-14 items-center gap-2.5 rounded-xl border-2 px-2.5 text-left ${active ? "border-tide bg-tide-wash" : "border-line bg-paper hover:border-ink"}`}
                    >
                      <span
                        className="num grid h-8 w-8 shrink-0 place-items-center rounded-lg border border-ink font-bold"
                        style={{ background: `var(--soil-${g.grade})`, color: g.grade > 2 ? "var(--paper)" : "var(--ink)" }}
                      >
                        {g.grade}
                      </span>
                      <span className="min-w-0 font-semibold max-sm:hidden">{sentence(g.name)}</span>
                    </button>
                  );
                })}
              </div>
              <p className="mt-1.5 min-h-hit text-sm text-faded">
                {flagging ? (
                  <>Tap where you see {matter}. Tap again to take it off.</>
                ) : brush !== null ? (
                  <>
                    <b className="text-ink">Every zone you tap becomes grade {brush}.</b> {words?.grades[brush]?.looks}
                  </>
                ) : part ? (
                  <>
                    <b className="text-ink">{sentence(part.label)}</b>:{" "}
                    {words?.grades[look.grades[part.zone] ?? -1]?.looks ?? "not graded yet."} Keys 0 to 4 grade it, arrows move on.
                  </>
                ) : (
                  <>Pick a grade and tap the zones that look like it; or walk with the arrow keys and press 0 to 4.</>
                )}{" "}
                {assessment.ungraded.length > 0 && (
                  <button
                    type="button"
                    className="font-semibold text-tide underline underline-offset-4"
                    onClick={() => fillRest(brush ?? 1)}
                  >
                    Grade all the rest {brush ?? 1}
                  </button>
                )}
              </p>
            </>
          )}
        </div>
        <aside className="grid content-start gap-3">
          <Verdict assessment={assessment} choices={judged.data?.choices ?? []} trouble={judged.error} />
          {editable && words && (
            <>
              <Box
                title="Bonded matter"
                open={look.bonded.length > 0 || flagging}
                note={look.bonded.length ? String(look.bonded.length) : ""}
              >
                <div className="flex gap-2">
                  <Select label="Bonded matter" value={matter} onChange={setMatter} options={words.matter.map((m) => m.matter)} />
                  <Button aria-pressed={flagging} look={flagging ? "act" : "plain"} onClick={() => setFlagging(!flagging)}>
                    {flagging ? "Stop" : "Mark"}
                  </Button>
                </div>
                <p className="mt-1 text-sm text-faded">
                  {inScope(words, matter)
                    ? "Comes off in a maintenance wash."
                    : "Does not come off in a maintenance wash: noted, prep offered."}
                </p>
              </Box>
              <Box title="Watch list" open note={look.watch.length ? String(look.watch.length) : ""}>
                <ul className="grid gap-1">
                  {words.watch.map((w) => (
                    <li key={w.watch}>
                      <Tick
                        label={
                          <>
                            {" "}
                            {w.label}{" "}
                            {look.watch.includes(w.watch) && (
                              <span className={`block text-sm ${w.bars ? "font-semibold text-rust" : "text-faded"}`}>{w.means}</span>
                            )}{" "}
                          </>
                        }
                        on={look.watch.includes(w.watch)}
                        onChange={(on) =>
                          change({
                            ...look,
                            watch: on ? [...look.watch, w.watch] : look.watch.filter((x) => x !== w.watch),
                          })
                        }
                      />
                    </li>
                  ))}
                  <li>
                    <Tick label="Salt, from road or sea" on={look.salt} onChange={(on) => change({ ...look, salt: on })} />
                  </li>
                </ul>
              </Box>
              <Box title="Protection" note={look.protection.kind}>
                <div className="grid gap-3">
                  <Field label="What is on it">
                    <Select
                      value={look.protection.kind}
                      onChange={(kind) => change({ ...look, protection: { ...look.protection, kind } })}
                      options={["unknown", "none", "wax", "sealant", "coating", "film"]}
                    />
                  </Field>
                  <Field label="Age, days">
                    <input
                      className={inputLook}
                      type="number"
                      min={0}
                      max={5000}
                      value={look.protection.ageDays}
                      onChange={(e) =>
                        change({ ...look, protection: { ...look.protection, ageDays: Math.max(0, Math.round(Number(e.target.value))) } })
                      }
                    />
                  </Field>
                  <Choice
                    label="Water on it"
                    value={look.protection.water}
                    onChange={(water) => change({ ...look, protection: { ...look.protection, water } })}
                    options={[
                      { value: "not seen", label: "Not seen" },
                      { value: "beads", label: "Beads" },
                      { value: "flat", label: "Lies flat" },
                    ]}
                  />
                </div>
              </Box>
              <Box title="Place, time, service" note={`${look.place.cover}, ${look.budget ? minutes(look.budget) : "no limit"}`}>
                <PlaceForm look={look} change={change} />
              </Box>
            </>
          )}
        </aside>
      </div>
    </>
  );
}

const inScope = (words: Schemas["Words"] | undefined, matter: Matter) =>
  words?.matter.find((m) => m.matter === matter)?.inMaintenance ?? false;

function Box({ title, note, open, children }: { title: string; note?: string; open?: boolean; children: ReactNode }) {
  return (
    <details open={open} className="rounded-2xl border border-line bg-paper px-4 py-2.5">
      <summary className="min-h-7 font-bold">
        {title} {note && <span className="font-normal text-faded">· {note}</span>}
      </summary>
      <div className="pt-2 pb-1">{children}</div>
    </details>
  );
}

function Verdict({
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
          {a.overall}
        </span>
        <div>
          <p className="text-lg leading-tight font-bold">{sentence(a.name)} overall</p>
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
          {trouble instanceof Problem ? trouble.message : "Not judged."} What you tap is kept on this device.
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

function PlaceForm({ look, change }: { look: Look; change: (l: Look) => void }) {
  const place = (p: Partial<Schemas["Place"]>) => change({ ...look, place: { ...look.place, ...p } });
  return (
    <div className="grid gap-3">
      <Choice
        label="Cover"
        value={look.place.cover}
        onChange={(cover) => place({ cover })}
        options={[
          { value: "open sky", label: "Open sky" },
          { value: "shade", label: "Shade" },
          { value: "indoors", label: "Indoors" },
        ]}
      />
      <Choice
        label="Water supply"
        value={look.place.supply}
        onChange={(supply) => place({ supply })}
        options={[
          { value: "pressure washer", label: "Pressure washer" },
          { value: "hose", label: "Hose" },
          { value: "carried water", label: "Carried" },
        ]}
      />
      <Tick
        label={
          <>
            {" "}
            Wash water may run off here <span className="block text-sm text-faded">Local rules on drains come first.</span>{" "}
          </>
        }
        on={look.place.runoff}
        onChange={(on) => place({ runoff: on })}
      />
      <Tick label="A blower may be used here" on={look.place.blower} onChange={(on) => place({ blower: on })} />
      <Choice
        label="Service"
        value={look.service}
        onChange={(service) => change({ ...look, service })}
        options={[
          { value: "basic", label: "Basic" },
          { value: "signature", label: "Signature" },
        ]}
      />
      <Tick label="Tyre shine" on={look.tyreShine} onChange={(on) => change({ ...look, tyreShine: on })} />
      <Field label="Pairs of hands">
        <input
          className={inputLook}
          type="number"
          min={1}
          max={20}
          value={look.crew ?? 1}
          onChange={(e) => change({ ...look, crew: Math.min(20, Math.max(1, Math.round(Number(e.target.value)))) })}
        />
      </Field>
      <Field label="Minutes there are" hint="0 for no limit">
        <input
          className={inputLook}
          type="number"
          min={0}
          max={600}
          value={look.budget}
          onChange={(e) => change({ ...look, budget: Math.min(600, Math.max(0, Math.round(Number(e.target.value)))) })}
        />
      </Field>
      <Field label="Notes: damage, anything before starting">
        <textarea
          className={`${inputLook} py-2`}
          rows={3}
          maxLength={2000}
          value={look.notes}
          onChange={(e) => change({ ...look, notes: e.target.value })}
        />
      </Field>
    </div>
  );
}
