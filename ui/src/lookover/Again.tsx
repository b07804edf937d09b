import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";
import { type Schemas, ask, client } from "../api/client";
import { keys, stale } from "../api/keys";
import { useWords } from "../api/shop";
import { Car } from "../car/Car";
import type { Zone } from "../car/shape";
import { minutes, plural } from "../kit/format";
import { Button, Head, LinkButton, Loading, Panel, Table, Trouble } from "../kit/kit";
import { draftOf, dropDraft, keepDraft } from "../offline/draft";
import { newId } from "../offline/ids";
import { Brush } from "./Brush";

type Grades = Record<string, number>;

interface Kept {
  id: string;
  grades: Grades;
}

const kept = (id: string) => `grades ${id}`;

/** A vehicle graded again by somebody who does not see the first grades: kept on this device until it is sent. */
export function Again() {
  const { id = "" } = useParams();
  const vehicle = useQuery({
    queryKey: keys.lookOver(id, "again"),
    queryFn: () => ask(client.GET("/bookings/{id}/second-grade", { params: { path: { id } } })),
    staleTime: Infinity,
  });
  if (vehicle.isPending) return <Loading what="the vehicle" />;
  if (!vehicle.data) return <Trouble error={vehicle.error} retry={() => void vehicle.refetch()} />;
  return <Graded key={id} of={vehicle.data} />;
}

function Graded({ of }: { of: Schemas["ToGrade"] }) {
  const queries = useQueryClient();
  const [mine, setMine] = useState<Kept>(() => draftOf<Kept>(kept(of.bookingId)) ?? { id: newId(), grades: {} });
  const [past, setPast] = useState<Grades[]>([]);
  const [zone, setZone] = useState<Zone | null>(null);
  const [brush, setBrush] = useState<number | null>(1);
  const parts = useWords().data?.bodies.find((b) => b.body === of.spec.body)?.parts ?? [];
  const hold = (grades: Grades) => {
    keepDraft(kept(of.bookingId), { ...mine, grades });
    setMine({ ...mine, grades });
  };
  const grade = (zones: readonly Zone[], g: number) => {
    setPast([...past, mine.grades]);
    hold({ ...mine.grades, ...Object.fromEntries(zones.map((z) => [z, g])) });
  };
  const undo = () => {
    const last = past.at(-1);
    if (!last) return;
    setPast(past.slice(0, -1));
    hold(last);
  };
  const send = useMutation({
    mutationFn: () =>
      ask(
        client.POST("/bookings/{id}/second-grade", {
          params: { path: { id: of.bookingId } },
          body: { id: mine.id, lookOver: of.lookOver, grades: mine.grades as Record<Zone, number> },
        }),
      ),
    onSuccess: () => {
      dropDraft(kept(of.bookingId));
      stale(queries, keys.lookOver("again"), keys.audits());
      window.scrollTo(0, 0);
    },
  });
  const sheet = { look: { grades: mine.grades }, zone, brush, setBrush, flagging: false, setFlagging: () => undefined, grade, undo };
  const left = of.zones.filter((z) => mine.grades[z] === undefined);
  return (
    <>
      <Head title={`Grade again, blind: ${of.label}`} sub={`${of.plate} · the first grades are not shown`}>
        <LinkButton to="/look-over">Look-over</LinkButton>
      </Head>
      {send.data ? (
        <Told t={send.data} parts={parts} />
      ) : (
        <div className="grid gap-3 lg:max-w-3xl">
          <div className="rounded-2xl border border-line bg-paper p-3">
            <Car
              body={of.spec.body}
              grades={mine.grades}
              selected={zone}
              onPick={(z) => (setZone(z), brush !== null && grade([z], brush))}
              {...(brush !== null && { onPaint: (z: Zone) => mine.grades[z] !== brush && grade([z], brush) })}
              className="mx-auto max-h-[calc(100dvh-19rem)] min-h-72"
            />
          </div>
          <Brush sheet={{ ...sheet, undoes: past.length > 0, matter: "bugs" }} parts={parts} />
          <Button look="act" className="min-h-16 text-lg" disabled={left.length > 0 || send.isPending} onClick={() => send.mutate()}>
            {left.length > 0 ? `${plural(left.length, "part")} of the paint to grade` : "Send my grades"}
          </Button>
          {send.error && <Trouble error={send.error} />}
        </div>
      )}
    </>
  );
}

/** What came of it: where the two graded apart, and what that comes to. */
function Told({ t, parts }: { t: Schemas["GradedAgain"]; parts: Schemas["Part"][] }) {
  const name = (z: string) => parts.find((p) => p.zone === z)?.label ?? z;
  const wash = (title: string, takes: number) => (title ? `${title}, ${minutes(takes)}` : "no wash");
  return (
    <Panel title={t.apart.length === 0 ? "Graded alike" : `${plural(t.apart.length, "part")} graded apart`}>
      <div className="grid gap-3">
        <p>
          {t.firstOverall === t.secondOverall
            ? `Both say grade ${t.firstOverall} decides.`
            : `The first says grade ${t.firstOverall} decides, you say ${t.secondOverall}.`}{" "}
          {t.firstChoice === t.secondChoice
            ? `The same wash is recommended: ${minutes(t.firstMinutes)} and ${minutes(t.secondMinutes)}.`
            : `By the first: ${wash(t.firstTitle, t.firstMinutes)}; by yours: ${wash(t.secondTitle, t.secondMinutes)}.`}
        </p>
        {t.apart.length > 0 && (
          <Table caption="Graded apart" head={["Part", "First", "You"]}>
            {t.apart.map((z) => (
              <tr key={z}>
                <th scope="row" className="font-normal">
                  {name(z)}
                </th>
                <td className="num">{t.first[z]}</td>
                <td className="num">{t.second[z]}</td>
              </tr>
            ))}
          </Table>
        )}
        <p className="text-faded">The look-over stays as it is. Look at these parts together, and say which is right.</p>
      </div>
    </Panel>
  );
}
