import { useQuery } from "@tanstack/react-query";
import { useNavigate, useParams } from "react-router";
import { ask, client } from "../api/client";
import { keys } from "../api/keys";
import { Head, LinkButton, Loading, Trouble } from "../kit/kit";
import { BookingForm } from "./BookingForm";

/** A new booking. */
export function Book() {
  const go = useNavigate();
  return (
    <>
      <Head title="Book a wash">
        <LinkButton to="/">Leave it</LinkButton>
      </Head>
      <BookingForm onDone={() => void go("/")} />
    </>
  );
}

/** A booking that is changed before its wash begins. */
export function ChangeBooking() {
  const { id = "" } = useParams();
  const go = useNavigate();
  const look = useQuery({
    queryKey: keys.lookOver(id),
    queryFn: () => ask(client.GET("/bookings/{id}/look-over", { params: { path: { id } } })),
  });
  if (look.isPending) return <Loading what="the booking" />;
  if (!look.data) return <Trouble error={look.error} retry={() => void look.refetch()} />;
  const { booking } = look.data;
  return (
    <>
      <Head title={`Change the booking: ${booking.label}`} sub={<span className="num">{booking.plate}</span>}>
        <LinkButton to="/">Leave it</LinkButton>
      </Head>
      <BookingForm key={booking.version} change={booking} act="Save" onDone={() => void go("/")} />
    </>
  );
}
