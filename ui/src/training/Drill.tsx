import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";
import { type Schemas, ask, client } from "../api/client";
import { useWords } from "../api/shop";
import { Car } from "../car/Car";
import type { Zone } from "../car/shape";
import { plural, sentence, useQuantities } from "../kit/format";
import { Button, Choice, Figure, Head, LinkButton, Loading, Panel, Tag, Trouble } from "../kit/kit";
import { keys } from "../api/keys";

type View = Schemas["DrillView"];
type Move = Schemas["ContactMove"];

export function Drill() {
  const { id = "" } = useParams();
  const drill = useQuery({
    queryKey: keys.drill(id),
    queryFn: () => ask(client.GET("/drills/{id}", { params: { path: { id } } })),
    staleTime: Infinity,
  });
  if (drill.isPending) return <Loading what="the drill" />;
  if (!drill.data) return <Trouble error={drill.error} retry={() => void drill.refetch()} />;
  return <Play view={drill.data} />;
}

function Play({ view }: { view: View }) {
  const queries = useQueryClient();
  const words = useWords().data;
  const [zone, setZone] = useState<Zone | null>(null);
  const keep = (next: View) => queries.setQueryData(keys.drill(view.id), next);
  const play = useMutation({
    mutationFn: (moves: Move[]) =>
      ask(client.PUT("/drills/{id}/moves", { params: { path: { id: view.id } }, body: { version: view.version, moves } })),
    onSuccess: keep,
  });
  const finish = useMutation({
    mutationFn: () => ask(client.POST("/drills/{id}/finish", { params: { path: { id: view.id } } })),
    onSuccess: (next) => {
      keep(next);
      void queries.invalidateQueries({ queryKey: keys.training() });
    },
  });
  const { state, played, slip, index, finished } = view.standing;
  const patch = view.patches.find((p) => p.zone === zone);
  const part = (z: string) => words?.bodies.find((b) => b.body === view.body)?.parts.find((p) => p.zone === z)?.label ?? z;
  const left = (z: string) => 1 - (state.done[z] ?? 0);
  const open = !view.result && view.mine;
  const make = (m: Move) => play.mutate([...view.moves, m]);
  const last = played.at(-1);
  const busy = play.isPending;
  return (
    <>
      <Head title={`Mitt drill: ${view.title}`} sub={`${view.person.name} · the paint's limit is ${view.lacquer.limit} mg on a face`}>
        <LinkButton to="/training">All drills</LinkButton>
        {open && finished && (
          <Button look="act" disabled={finish.isPending} onClick={() => finish.mutate()}>
            Compare with the plan
          </Button>
        )}
      </Head>
      {view.result && <Compared r={view.result} />}
      <div className="grid gap-4 lg:grid-cols-[minmax(0,1fr)_25rem]">
        <div className="min-w-0">
          <div className="rounded-2xl border border-line bg-paper p-3">
            <Car
              body={view.body}
              grades={Object.fromEntries(view.patches.map((p) => [p.zone, p.grade]))}
              lit={view.patches.filter((p) => left(p.zone) > 0.001).map((p) => p.zone)}
              done={view.patches.filter((p) => left(p.zone) < 0.001).map((p) => p.zone)}
              marks={Object.fromEntries(
                view.patches
                  .filter((p) => left(p.zone) > 0.001 && left(p.zone) < 0.999)
                  .map((p) => [p.zone, `${Math.round(left(p.zone) * 100)}%`]),
              )}
              selected={zone}
              {...(open ? { onPick: (z: Zone) => view.patches.some((p) => p.zone === z) && setZone(z) } : {})}
              describe={(z) =>
                `${part(z)}${view.patches.some((p) => p.zone === z) ? `, grade ${view.patches.find((p) => p.zone === z)?.grade}, ${Math.round(left(z) * 100)} % to wash` : ", not washed with the mitt"}`
              }
              className="mx-auto max-h-[27rem]"
            />
          </div>
          {last && (
            <p
              role="status"
              className={`mt-3 rounded-xl border-2 p-3 text-lg ${last.over ? "border-rust bg-rust-wash" : "border-line bg-paper"}`}
            >
              {last.why}
            </p>
          )}
          {play.error && <Trouble error={play.error} />}
          {finish.error && <Trouble error={finish.error} />}
        </div>
        <div className="grid content-start gap-3">
          <Panel
            title={state.mitt === 0 ? "Upper mitt" : "Lower mitt"}
            aside={<Tag tone={slip === "good" ? "moss" : slip === "poor" ? "amber" : "rust"}>{slip} slip</Tag>}
          >
            <Faces held={state.mitts[state.mitt]} limit={view.lacquer.limit} />
            <div className="mt-3 flex flex-wrap gap-x-7 gap-y-1">
              <Figure value={index.toFixed(1)} label="scratch risk of 100" tone={index > 25 ? "text-rust" : "text-ink"} />
              <Figure value={String(state.rinses)} label="rinses" />
              <Figure
                value={`${Math.round(state.suds)} mg`}
                label="grit in the wash bucket"
                tone={state.suds > 40 ? "text-rust" : "text-ink"}
              />
            </div>
          </Panel>
          {open && (
            <NextMove
              view={view}
              patch={patch}
              left={left}
              label={part}
              busy={busy}
              make={make}
              back={() => play.mutate(view.moves.slice(0, -1))}
            />
          )}
          <details className="rounded-2xl border border-line bg-paper px-4 py-2.5" open={Boolean(view.result)}>
            <summary className="font-bold">{plural(view.moves.length, "move")} so far</summary>
            <ol className="mt-1 max-h-72 list-decimal overflow-auto pl-6 text-sm">
              {played.map((p, i) => (
                <li key={i} className={p.over ? "font-semibold text-rust" : ""}>
                  {p.move.kind === "wash"
                    ? `Wash ${p.move.share && p.move.share < 1 ? `${p.move.share * 100} % of what is left of the ` : "the "}${part(p.move.zone ?? "")}`
                    : sentence(p.move.kind)}
                </li>
              ))}
            </ol>
          </details>
        </div>
      </div>
    </>
  );
}

interface NextMoveProps {
  view: View;
  patch: View["patches"][number] | undefined;
  left: (zone: string) => number;
  label: (zone: string) => string;
  busy: boolean;
  make: (m: Move) => void;
  back: () => void;
}

/** What the mitt does next: how much of the zone, with which stroke; or a flip, a rinse, a reload. */
function NextMove({ view, patch, left, label, busy, make, back }: NextMoveProps) {
  const q = useQuantities();
  const [share, setShare] = useState<"1" | "0.5" | "0.25">("1");
  const [stroke, setStroke] = useState<"straight" | "circles">("straight");
  const [pressing, setPressing] = useState<"light" | "pressing">("light");
  const wash = () => {
    if (!patch) return;
    const how = { circles: stroke === "circles", pressing: pressing === "pressing" };
    make({ kind: "wash", zone: patch.zone, share: Number(share), stroke: how });
  };
  const others: Move["kind"][] = ["flip", "rub on the guard", "swish only", "reload"];
  if (view.standing.state.mitt === 0) others.push("change to the lower mitt");
  return (
    <Panel title="Next move">
      <div className="grid gap-2.5">
        <p>
          {patch ? (
            <>
              <b>{sentence(label(patch.zone))}</b>, grade {patch.grade}, {q.area(patch.area * left(patch.zone))} to wash
            </>
          ) : (
            "Pick a zone on the car."
          )}
        </p>
        <Choice
          label="How much of it"
          value={share}
          onChange={setShare}
          options={[
            { value: "1", label: "All that is left" },
            { value: "0.5", label: "Half" },
            { value: "0.25", label: "A quarter" },
          ]}
        />
        <div className="flex flex-wrap gap-4">
          <Choice
            label="Stroke"
            value={stroke}
            onChange={setStroke}
            options={[
              { value: "straight", label: "Straight" },
              { value: "circles", label: "Circles" },
            ]}
          />
          <Choice
            label="Hand"
            value={pressing}
            onChange={setPressing}
            options={[
              { value: "light", label: "Weight of the mitt only" },
              { value: "pressing", label: "Pressing" },
            ]}
          />
        </div>
        <Button look="act" className="min-h-14" disabled={!patch || left(patch.zone) < 0.001 || busy} onClick={wash}>
          Wash it
        </Button>
        <div className="grid grid-cols-2 gap-2">
          {others.map((kind) => (
            <Button key={kind} className="min-h-14 px-2!" disabled={busy} onClick={() => make({ kind })}>
              {sentence(kind)}
            </Button>
          ))}
          <Button className="min-h-14" disabled={busy || view.moves.length === 0} onClick={back}>
            Take back
          </Button>
        </div>
      </div>
    </Panel>
  );
}

function Faces({ held, limit }: { held: Schemas["Held"] | undefined; limit: number }) {
  if (!held) return null;
  return (
    <ul className="grid grid-cols-2 gap-3">
      {held.faces.map((f, i) => {
        const over = f.exposed > limit * 1.0001;
        return (
          <li key={i} className={`rounded-xl border-2 p-2.5 ${held.face === i ? "border-tide bg-tide-wash" : "border-line"}`}>
            <p className="flex justify-between">
              <b>Face {i + 1}</b>
              <span className="text-sm text-faded">{held.face === i ? "down" : ""}</span>
            </p>
            <p className={`num text-xl font-semibold ${over ? "text-rust" : ""}`}>{f.exposed.toFixed(0)} mg</p>
            <p className="text-sm text-faded">exposed; {f.sunk.toFixed(0)} mg sunk</p>
            <span className="mt-1 block h-2 overflow-hidden rounded-full bg-line" aria-hidden>
              <span
                className="block h-full"
                style={{ width: `${Math.min(100, (f.exposed / limit) * 100)}%`, background: over ? "var(--rust)" : "var(--ink)" }}
              />
            </span>
          </li>
        );
      })}
    </ul>
  );
}

function Compared({ r }: { r: Schemas["Comparison"] }) {
  return (
    <Panel
      className="mb-4"
      title="Against the plan"
      aside={<Tag tone={r.passed ? "moss" : "rust"}>{r.passed ? "Ready for a real car" : "Try again"}</Tag>}
    >
      <div className="flex flex-wrap gap-x-9 gap-y-2">
        <Figure value={`${r.index.toFixed(1)} / ${r.planIndex.toFixed(1)}`} label="scratch risk, yours and the plan's" />
        <Figure value={`${r.rinses} / ${r.planRinses}`} label="rinses" />
        <Figure value={`${Math.round(r.left)} / ${Math.round(r.planLeft)} mg`} label="grit left on the car" />
      </div>
      <ul className="mt-2 list-disc pl-5">
        {r.remarks.map((x) => (
          <li key={x}>{x}</li>
        ))}
      </ul>
      <details className="mt-2">
        <summary className="font-semibold text-tide">The plan, move by move</summary>
        <ol className="mt-1 list-decimal pl-6 text-sm">
          {r.planMoves.map((m, i) => (
            <li key={i}>
              <b>{sentence(m)}</b> <span className="text-faded">{r.planReasons[i]}</span>
            </li>
          ))}
        </ol>
      </details>
    </Panel>
  );
}
