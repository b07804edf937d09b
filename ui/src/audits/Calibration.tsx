import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Check, X } from "lucide-react";
import { useNavigate, useParams } from "react-router";
import { type Schemas, ask, client } from "../api/client";
import { keys, stale } from "../api/keys";
import { useMay, useMe, useWords } from "../api/shop";
import { day, plural, sentence } from "../kit/format";
import { Button, Empty, Figure, Head, LinkButton, Loading, Panel, Table, Trouble } from "../kit/kit";
import { say } from "../kit/notice";
import { Photos } from "../photo/Photos";
import { useBlind } from "../api/BlindOffer";
import { BlindWalk } from "./BlindWalk";
import { useZoneName } from "./Outcome";

type Set = Schemas["CalibrationSet"];
type Line = Set["set"][number];

const percent = (x: number) => `${Math.round(100 * x)} %`;

/** Walks with findings that a lead has confirmed: everybody walks them, and it is seen who finds what. */
export function Calibration() {
  const set = useQuery({ queryKey: keys.audits("calibration"), queryFn: () => ask(client.GET("/calibration")) });
  if (set.isPending) return <Loading what="the calibration set" />;
  if (!set.data) return <Trouble error={set.error} retry={() => void set.refetch()} />;
  const { shows } = set.data;
  const lines = [...set.data.set].sort((a, b) => Number(b.mayWalk) - Number(a.mayWalk)); // what there is to do comes first
  return (
    <>
      <Head title="Calibration set" sub="The same walks for everybody who audits, with findings that a lead has confirmed.">
        <LinkButton to="/audits/agreement">Agreement</LinkButton>
        <LinkButton to="/audits">Audits</LinkButton>
      </Head>
      {lines.length === 0 ? (
        <Empty>
          Nothing is in the set yet. A lead opens a signed audit with photos, or of a car that was prepared for it, and puts it in from
          there.
        </Empty>
      ) : (
        <div className="grid items-start gap-4 xl:grid-cols-2">
          <Panel title="Walks of the set" aside={plural(lines.length, "walk")}>
            <ul className="grid gap-2">
              {lines.map((l) => (
                <InSet key={l.id} l={l} />
              ))}
            </ul>
          </Panel>
          {shows && <Shows v={shows} />}
        </div>
      )}
    </>
  );
}

function InSet({ l }: { l: Line }) {
  const may = useMay();
  const go = useNavigate();
  const me = useMe().data?.id ?? "";
  const { askFor } = useBlind("set walk", l.id);
  const queries = useQueryClient();
  const retire = useMutation({
    meta: { said: "It is out of the set. How it was walked stays in the records." },
    mutationFn: () => ask(client.DELETE("/calibration/{id}", { params: { path: { id: l.id } } })),
    onSuccess: (next) => queries.setQueryData(keys.audits("calibration"), next),
  });
  return (
    <li className="grid gap-2 rounded-xl border border-line p-3">
      <div className="flex items-center justify-between gap-3 max-sm:flex-wrap">
        <div className="min-w-0">
          <b>{l.title}</b>
          <p className="text-sm text-faded">
            {l.label} · {l.list} · {plural(l.photos, "photo")} · {l.by}, {day(l.at)}
          </p>
          <p className="text-sm">
            {`Walked by ${plural(l.walks, "person", "people")}.`}
            {l.findings > 0 && ` ${plural(l.findings, "thing")} to be found.`}
          </p>
        </div>
        <div className="flex shrink-0 gap-2 empty:hidden">
          {l.mayWalk && (
            <Button
              look="act"
              disabled={askFor.isPending}
              onClick={() => askFor.mutate(me, { onSuccess: () => void go(`/audits/calibration/${l.id}`) })}
            >
              Walk it
            </Button>
          )}
          {may("keep remedies") && (
            <Button aria-label={`Take ${l.title} out of the set`} disabled={retire.isPending} onClick={() => retire.mutate()}>
              Take out
            </Button>
          )}
        </div>
      </div>
      {l.mine && <Mine s={l.mine} />}
      {(retire.error ?? askFor.error) && <Trouble error={retire.error ?? askFor.error} />}
    </li>
  );
}

/** What one found oneself, and what one missed: that is what it is for. */
function Mine({ s }: { s: Schemas["Scored"] }) {
  const parts = useWords().data?.bodies.flatMap((b) => b.parts) ?? [];
  const label = (z: string) => parts.find((p) => p.zone === z)?.label ?? z;
  const words = (f: Schemas["KnownFinding"]) => `${sentence(f.finding.kind)} on ${label(f.finding.zone)}, at “${f.title}”`;
  return (
    <div className="rounded-lg bg-chalk p-2">
      <p className="font-semibold">{`You found ${s.found} of ${s.known}${s.false > 0 ? `, and ${s.false} that are not there` : ""}.`}</p>
      <ul className="text-sm">
        {s.missed.map((f, i) => (
          <li key={i} className="flex items-center gap-1.5">
            <X size={15} className="shrink-0 text-rust" aria-hidden /> Missed: {words(f)}
          </li>
        ))}
        {s.alarms.map((f, i) => (
          <li key={i} className="flex items-center gap-1.5">
            <X size={15} className="shrink-0 text-amber-ink" aria-hidden /> Not there: {words(f)}
          </li>
        ))}
        {s.missed.length + s.alarms.length === 0 && (
          <li className="flex items-center gap-1.5">
            <Check size={15} className="text-moss" aria-hidden /> Nothing was missed.
          </li>
        )}
      </ul>
    </div>
  );
}

/** What the set shows of all who walked: for the lead, by name and not by rank. */
function Shows({ v }: { v: Schemas["Calibrated"] }) {
  return (
    <Panel title="What it shows" aside="only leads see this">
      <div className="mb-3 flex flex-wrap gap-x-9 gap-y-2">
        <Figure value={String(v.walks)} label={v.walks === 1 ? "walk" : "walks"} />
        {v.among.known && (
          <Figure
            value={`${v.among.kappa.toFixed(2)} ± ${(1.96 * v.among.error).toFixed(2)}`}
            label="all agree beyond chance (Fleiss’ kappa)"
          />
        )}
      </div>
      {v.says.length > 0 && (
        <ul className="mb-3 grid gap-1 rounded-xl border-2 border-amber bg-amber-wash p-3">
          {v.says.map((s) => (
            <li key={s} className="font-semibold">
              {s}
            </li>
          ))}
        </ul>
      )}
      <Table caption="Who finds what there is" head={["Who", "Found", "How bad alike", "Not there"]}>
        {v.people.map((p) => (
          <tr key={p.id}>
            <th scope="row" className="font-normal">
              {p.name}
            </th>
            <td className="num">
              {`${p.found} of ${p.known}`}
              <span className="block text-sm text-faded">{`${percent(p.low)} to ${percent(p.high)}`}</span>
            </td>
            <td className="num">{`${p.alike} of ${p.found}`}</td>
            <td className="num">{`${p.false} in ${plural(p.clean, "look")}`}</td>
          </tr>
        ))}
      </Table>
      {v.kinds.length > 0 && (
        <Table caption="What is missed most" head={["What there is", "Found by all together"]}>
          {v.kinds.map((k) => (
            <tr key={k.kind}>
              <th scope="row" className="font-normal">
                {sentence(k.kind)}
              </th>
              <td className="num">{`${k.found} of ${k.known}, ${percent(k.share)}`}</td>
            </tr>
          ))}
        </Table>
      )}
    </Panel>
  );
}

/** A walk of the set: by its photos, or round the car that was prepared. */
export function CalibrationWalk() {
  const { id = "" } = useParams();
  const queries = useQueryClient();
  const go = useNavigate();
  const walk = useQuery({
    queryKey: keys.audits("calibration", id),
    queryFn: () => ask(client.GET("/calibration/{id}", { params: { path: { id } } })),
  });
  if (walk.isPending) return <Loading what="the walk" />;
  if (!walk.data) return <Trouble error={walk.error} retry={() => void walk.refetch()} />;
  const view = walk.data;
  return (
    <BlindWalk
      view={view}
      title={`Calibration: ${view.label}`}
      sub={`${view.checklist.title} · what there is to be found is not shown`}
      kept={`calibration ${id}`}
      send={(body) => ask(client.POST("/calibration/{id}/walks", { params: { path: { id } }, body }))}
      sent={() => {
        stale(queries, keys.audits());
        say("Your walk is kept. What you found stands beside it.");
        void go("/audits/calibration");
      }}
      shows={(zone) => <ShownOf view={view} zone={zone} />}
    />
  );
}

function ShownOf({ view, zone }: { view: Schemas["AuditView"]; zone: string | null }) {
  const name = useZoneName(view);
  const photos = view.photos.filter((p) => !zone || p.zone === zone);
  if (view.photos.length === 0) return null;
  return (
    <Panel title={zone ? `Photos of ${name(zone as Parameters<typeof name>[0])}` : "Photos"}>
      {photos.length === 0 ? (
        <Empty>No photo of this part.</Empty>
      ) : (
        <Photos title="As it stands" photos={photos} name={(z) => name(z as Parameters<typeof name>[0])} of={view.id} />
      )}
    </Panel>
  );
}
