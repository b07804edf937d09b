import type { Schemas } from "../api/client";
import { useMe } from "../api/shop";
import { hour, minutes, sentence, useQuantities } from "../kit/format";
import { handedWords, useYours } from "../kit/handed";
import { Away, LinkButton } from "../kit/kit";

/** What is yours now and next, first in the yard: the step in hand, the next car with what to fetch, for a trainee the next skill. */
export function YoursPanel() {
  const me = useMe().data;
  const yours = useYours();
  if (yours.error) return <Away title="Yours" query={yours} />;
  if (!yours.data || !me) return null;
  const { hand, next, skill } = yours.data;
  if (!hand && !next && !skill) return null;
  return (
    <section aria-label="Yours" className="mb-4 rounded-2xl border-2 border-tide bg-paper p-4">
      <h2 className="mb-2">Yours</h2>
      <div className="grid gap-4 md:grid-cols-2">
        {hand && <InHand hand={hand} />}
        {next && <NextCar next={next} />}
        {skill && (
          <div className="flex flex-wrap items-center justify-between gap-2">
            <p>
              Next to learn: <b>{sentence(skill)}</b>
            </p>
            <LinkButton to="/training">Training</LinkButton>
          </div>
        )}
      </div>
    </section>
  );
}

function InHand({ hand }: { hand: Schemas["YoursHand"] }) {
  return (
    <div className="grid content-start gap-2">
      <p>
        <span className="text-faded">In hand: </span>
        <b>{hand.step ?? "between two steps"}</b>
        <span className="block text-faded">
          {hand.label} <span className="num">{hand.plate}</span>, {hand.place}
        </span>
      </p>
      {hand.handed && <p className="rounded-xl bg-tide-wash px-3 py-2 font-semibold">{handedWords(hand.handed)}</p>}
      <LinkButton look="act" to={`/bay/${hand.washId}`} className="min-h-14">
        To the bay
      </LinkButton>
    </div>
  );
}

function NextCar({ next }: { next: Schemas["YoursNext"] }) {
  const q = useQuantities();
  const [to, act] = next.washId
    ? [`/bay/${next.washId}`, "Put it right"]
    : next.stage === "booked"
      ? [`/look-over/${next.bookingId}`, "Look it over"]
      : [`/plan/${next.bookingId}`, "Its plan"];
  return (
    <div className="grid content-start gap-2">
      <p>
        <span className="text-faded">Next, {hour(next.at)}: </span>
        <b>{next.label}</b> <span className="num">{next.plate}</span>
        <span className="block text-faded">
          {next.place}, promised {hour(next.promised)}
          {next.procedure && `, ${next.procedure}, ${minutes(next.minutes ?? 0)}`}
        </span>
      </p>
      <LinkButton to={to} className="min-h-14">
        {act}
      </LinkButton>
      {next.fetch.length > 0 && (
        <details>
          <summary className="font-semibold text-tide">What to fetch ({next.fetch.length})</summary>
          <ul className="list-disc pl-5">
            {next.fetch.map((f) => (
              <li key={f.what + (f.vessel ?? "")}>
                {sentence(f.what)}
                {f.ml !== undefined && (
                  <>
                    {" "}
                    <span className="num">{q.volume(f.ml)}</span> in the {f.vessel}
                  </>
                )}
              </li>
            ))}
          </ul>
        </details>
      )}
    </div>
  );
}
