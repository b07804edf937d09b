import { useNavigate } from "react-router";
import { useYard } from "../api/shop";
import { Head, LinkButton, Panel } from "../kit/kit";
import { BookingForm } from "./BookingForm";

/** The first car of a new shop: entered here, then looked over, planned and washed. */
export function First() {
  const go = useNavigate();
  const begun = useYard().data?.bookings[0];
  return (
    <>
      <Head title="Wash your first car" sub="The shop is set up. Take any car in the yard; your own will do.">
        <LinkButton to="/">Later</LinkButton>
      </Head>
      <div className="grid gap-4 lg:grid-cols-[minmax(0,1fr)_20rem]">
        <Panel title="Which car is it?">
          {begun && (
            <p className="mb-3">
              {begun.label} is booked already. <LinkButton to={`/look-over/${begun.id}`}>Look it over</LinkButton>
            </p>
          )}
          <BookingForm fresh act="Look it over" onDone={(b) => void go(`/look-over/${b.id}`)} />
        </Panel>
        <Panel title="What comes then">
          <ol className="list-decimal space-y-2 pl-5">
            <li>
              <b>Look it over.</b> Tap how dirty each panel is. Uskel says at once what must not be done to it, and why.
            </li>
            <li>
              <b>Plan.</b> Procedures that are safe here and now: how much product, how long it may work, how long it takes.
            </li>
            <li>
              <b>Into the bay.</b> One step at a time on a phone. Tap as you go: Uskel takes the times.
            </li>
            <li>
              <b>Check.</b> Somebody who did not wash it walks round with the checklist. Add people under Settings, People.
            </li>
          </ol>
        </Panel>
      </div>
    </>
  );
}
