import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useParams } from "react-router";
import { type Schemas, ask, client, Problem } from "../api/client";
import { useWords } from "../api/shop";
import { Car } from "../car/Car";
import type { Zone } from "../car/shape";
import { hour } from "../kit/format";
import { Button, Head, LinkButton, Loading, Trouble } from "../kit/kit";
import { Photos, TakePhoto, useWaiting } from "../photo/Photos";
import { Asked } from "./Asked";
import { Brush } from "./Brush";
import { inScope, type Sheet, useOrdered, useSheet } from "./useSheet";
import { Verdict } from "./Verdict";
import { keys, stale } from "../api/keys";

export function LookOver() {
  const { id = "" } = useParams();
  const saved = useQuery({
    queryKey: keys.lookOver(id),
    queryFn: () => ask(client.GET("/bookings/{id}/look-over", { params: { path: { id } } })),
    staleTime: Infinity,
  });
  if (saved.isPending) return <Loading what="the vehicle" />;
  if (!saved.data) return <Trouble error={saved.error} retry={() => void saved.refetch()} />;
  return <Page key={`${id}-${saved.data.version}`} id={id} view={saved.data} />;
}

function Page({ id, view }: { id: string; view: Schemas["LookOverView"] }) {
  const sheet = useSheet(id, view);
  const { booking } = view;
  const parts = useWords().data?.bodies.find((b) => b.body === booking.spec.body)?.parts ?? [];
  return (
    <>
      <Head
        title={`Look-over: ${booking.label}`}
        sub={
          <>
            <span className="num">{booking.plate}</span> · {booking.place.name} · promised {hour(booking.promisedAt)}
            {view.by && view.at && ` · looked over by ${view.by} at ${hour(view.at)}`}
            {sheet.mine && " · your unsaved draft"}
          </>
        }
      >
        {booking.washId ? (
          <LinkButton to={`/bay/${booking.washId}`}>To the bay</LinkButton>
        ) : (
          !sheet.editable && view.version > 0 && <LinkButton to={`/plan/${id}`}>Plan</LinkButton>
        )}
      </Head>
      <Overtaken sheet={sheet} by={view.by} />
      <div className="grid gap-4 lg:grid-cols-[minmax(0,1fr)_22.5rem]">
        <div>
          <Drawn sheet={sheet} body={booking.spec.body} photos={view.photos} />
          {sheet.editable && <Brush sheet={sheet} parts={parts} />}
          <AsItCame id={id} view={view} sheet={sheet} parts={parts} />
        </div>
        <aside className="grid content-start gap-3">
          <Verdict
            assessment={sheet.judged.data?.assessment ?? view.assessment}
            choices={sheet.judged.data?.choices ?? []}
            trouble={sheet.judged.error}
          />
          {sheet.editable && <Asked sheet={sheet} />}
        </aside>
      </div>
      {sheet.editable && <Save id={id} sheet={sheet} />}
    </>
  );
}

/** Photos of how the vehicle came, of the zone in hand or of all of it: an audit shows them beside its own. */
function AsItCame({ id, view, sheet, parts }: { id: string; view: Schemas["LookOverView"]; sheet: Sheet; parts: Schemas["Part"][] }) {
  const queries = useQueryClient();
  const pin = { subject: "look-over", of: id } as const;
  const waiting = useWaiting(pin);
  const name = (zone: string) => parts.find((p) => p.zone === zone)?.label ?? zone;
  const zone = sheet.zone ?? "";
  return (
    <div className="mt-3 grid gap-3">
      <Photos
        title="Photos of how it came"
        photos={view.photos}
        waiting={waiting}
        name={name}
        of={id}
        {...(sheet.editable && { dropped: () => stale(queries, keys.lookOver(id)) })}
      />
      {sheet.editable && <TakePhoto {...pin} zone={zone} what={zone ? name(zone) : "the whole vehicle"} />}
    </div>
  );
}

/** The zones that photos show, each once. */
const photographed = (photos: Schemas["PhotoView"][]) => [...new Set(photos.flatMap((p) => (p.zone ? [p.zone] : [])))];

/** The car to be graded: tapped, drawn over with the brush, or walked with the keys. */
function Drawn({ sheet, body, photos }: { sheet: Sheet; body: Schemas["Body"]; photos: Schemas["PhotoView"][] }) {
  const { look, zone, setZone, brush, flagging, editable, grade, ungrade, flag } = sheet;
  const ordered = useOrdered(look.service);
  const pick = (z: Zone) => {
    setZone(z);
    if (!editable) return;
    if (flagging) flag(z);
    else if (brush !== null && look.grades[z] === brush) ungrade(z);
    else if (brush !== null) grade([z], brush);
  };
  const key = (z: Zone, k: string) => {
    if (!editable) return false;
    if (/^[0-4]$/.test(k)) grade([z], Number(k));
    else if (k === "Delete" || k === "Backspace") ungrade(z);
    else if (k === "b") flag(z);
    else return false;
    setZone(z);
    return true;
  };
  const paints = editable && !flagging && brush !== null;
  return (
    <div className="rounded-2xl border border-line bg-paper p-3">
      <Car
        body={body}
        grades={look.grades}
        selected={zone}
        onPick={pick}
        onKey={key}
        {...(paints && { onPaint: (z: Zone) => look.grades[z] !== brush && grade([z], brush) })}
        pins={[
          ...look.bonded.map((b) => ({
            zone: b.zone,
            label: b.matter.charAt(0).toUpperCase(),
            tone: inScope(ordered, b.matter) ? ("amber" as const) : ("rust" as const),
          })),
          ...photographed(photos).map((zone) => ({ zone, label: "\u25c9", tone: "tide" as const })),
        ]}
        className="mx-auto max-h-[calc(100dvh-19rem)] min-h-72"
      />
    </div>
  );
}

/** Saving stays in sight, with what stands in its way. */
function Save({ id, sheet: { save } }: { id: string; sheet: Sheet }) {
  const queries = useQueryClient();
  const stale = save.error instanceof Problem && save.error.stale;
  return (
    <div className="sticky bottom-0 z-10 mt-3 grid gap-2 bg-chalk py-2 max-md:bottom-(--bar)">
      {save.error && (
        <>
          <Trouble error={save.error} {...(!stale && { retry: () => save.mutate() })} />
          {stale && (
            <Button onClick={() => void queries.invalidateQueries({ queryKey: keys.lookOver(id) })} className="justify-self-start">
              Show theirs; mine is kept
            </Button>
          )}
        </>
      )}
      <Button look="act" disabled={save.isPending} onClick={() => save.mutate()} className="min-h-14 px-8 text-lg md:justify-self-end">
        Save and plan
      </Button>
    </div>
  );
}

/** Somebody saved since: one's own draft is still there. */
function Overtaken({ sheet: { overtaken, editable, change, dropMine }, by }: { sheet: Sheet; by: string | undefined }) {
  if (!overtaken || !editable) return null;
  return (
    <p className="mb-3 flex flex-wrap items-center gap-3 rounded-xl border-2 border-amber bg-amber-wash px-3 py-2">
      <span className="grow">This is {by ? `${by}’s` : "the saved"} look-over. Your unsaved one from before is still on this device.</span>
      <Button onClick={() => change(overtaken)}>Use mine</Button>
      <Button onClick={dropMine}>Drop mine</Button>
    </p>
  );
}
