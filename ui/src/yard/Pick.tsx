import { BlindOffer } from "../api/BlindOffer";
import { useQuery } from "@tanstack/react-query";
import { ask, client } from "../api/client";
import { keys } from "../api/keys";
import { hour } from "../kit/format";
import { Empty, Head, LinkButton, Loading, Panel, Table, Trouble } from "../kit/kit";
import { useMay, useYard } from "../api/shop";
import { doing } from "./doing";

/** Look-over without a vehicle: choose one. */
export function PickLookOver() {
  const yard = useYard();
  if (yard.isPending) return <Loading what="the yard" />;
  if (!yard.data) return <Trouble error={yard.error} retry={() => void yard.refetch()} />;
  const rows = yard.data.bookings.filter((b) => b.stage === "booked" || b.stage === "looked over");
  return (
    <>
      <Head title="Look-over" sub="Which vehicle is in front of you?" />
      <ToGradeAgain asked />
      {rows.length === 0 && <Empty>Every vehicle booked today is in the bay or done.</Empty>}
      {rows.length > 0 && (
        <Table stacks caption="Vehicles to look over" head={["In", "Vehicle", "Where", ""]}>
          {rows.map((b) => (
            <tr key={b.id}>
              <td data-head="In" className="num">
                {hour(b.arrivesAt)}
              </td>
              <th scope="row">
                {b.label} <span className="num font-normal text-faded">{b.plate}</span>
              </th>
              <td data-head="Where">{b.place.name}</td>
              <td className="flex gap-2 max-sm:col-span-2 sm:justify-end">
                {b.stage === "looked over" && <LinkButton to={`/plan/${b.id}`}>Plan</LinkButton>}
                <LinkButton to={`/look-over/${b.id}`} look={b.stage === "booked" ? "act" : "plain"}>
                  {b.stage === "booked" ? "Look over" : "Look again"}
                </LinkButton>
              </td>
            </tr>
          ))}
        </Table>
      )}
      <ToGradeAgain asked={false} />
    </>
  );
}

/** Vehicles that wait for their wash and that somebody else looked over: those that one is asked for, or the others. */
function ToGradeAgain({ asked }: { asked: boolean }) {
  const may = useMay()("look over");
  const open = useQuery({ queryKey: keys.lookOver("again"), queryFn: () => ask(client.GET("/second-grades")), enabled: may });
  const those = (open.data ?? []).filter((o) => o.mine === asked);
  if (those.length === 0) return null;
  return (
    <div className={asked ? "mb-4" : "mt-4"}>
      <Panel title={asked ? "You are asked to grade again, blind" : "Grade again, blind"}>
        <p className="mb-2 text-sm text-faded">So that it is known how far grades agree. The first grades are not shown.</p>
        <ul className="grid gap-2">
          {those.map((o) => (
            <BlindOffer
              key={o.bookingId}
              kind="second grades"
              of={o.bookingId}
              look={o}
              label={o.label}
              plate={o.plate}
              to={`/look-over/${o.bookingId}/again`}
            />
          ))}
        </ul>
      </Panel>
    </div>
  );
}

/** Bay without a wash: choose one that runs. */
export function PickBay() {
  const yard = useYard();
  if (yard.isPending) return <Loading what="the bays" />;
  if (!yard.data) return <Trouble error={yard.error} retry={() => void yard.refetch()} />;
  const rows = yard.data.bookings.filter((b) => b.stage === "in the bay" || b.stage === "rework");
  return (
    <>
      <Head title="Bay" sub="Washes under way." />
      {rows.length === 0 && <Empty>No wash is running. Start one from its plan in the Yard.</Empty>}
      <ul className="grid gap-3 sm:grid-cols-2">
        {rows.map((b) => (
          <li key={b.id}>
            <LinkButton to={`/bay/${b.washId}`} className="min-h-20 w-full flex-col items-start! justify-center! text-left">
              <span className="text-lg">{b.label}</span>
              <span className="font-normal text-faded">
                {b.washer?.name}, {b.place.name}: {doing(b)}
              </span>
            </LinkButton>
          </li>
        ))}
      </ul>
    </>
  );
}
