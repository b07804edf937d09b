import { CloudRain, Droplets, Sun, Thermometer, Wind } from "lucide-react";
import { Link, useNavigate } from "react-router";
import type { Schemas } from "../api/client";
import { useYard, useMay } from "../api/shop";
import { fullDay, hour, minutes, seconds, sentence, useQuantities } from "../kit/format";
import { useStartAudit } from "../api/startAudit";
import { Button, Empty, Head, LinkButton, Loading, Panel, Table, Tag, type Tone, Trouble } from "../kit/kit";
import { Bays } from "./Bays";
import { doing } from "./doing";
import { Hours } from "./Hours";
import { YoursPanel } from "./Yours";
import { Say } from "./Say";

type Card = Schemas["BookingCard"];

export function Yard() {
  const yard = useYard();
  const may = useMay();
  if (yard.isPending) return <Loading what="the yard" />;
  if (!yard.data) return <Trouble error={yard.error} retry={() => void yard.refetch()} />;
  const { bookings, now } = yard.data;
  const late = bookings.filter((b) => b.lateBy > 0 && b.stage === "in the bay").length;
  const open = bookings.filter((b) => !over.has(b.stage)).length;
  return (
    <>
      <Head title="Yard" sub={`${fullDay(now)}, ${hour(now)}. ${open} to go${late ? `, ${late} late` : ""}.`}>
        <LinkButton to="/day">The day laid out</LinkButton>
        {may("run the day") && (
          <LinkButton look="act" to="/book">
            Book a wash
          </LinkButton>
        )}
      </Head>
      <YoursPanel />
      <Bays bookings={bookings} now={now} />
      <div className="grid gap-4 xl:grid-cols-[minmax(0,1fr)_20rem]">
        <Panel title="Today">
          {bookings.length === 0 ? (
            <Empty>Nothing is booked. Book a wash to begin.</Empty>
          ) : (
            <Table stacks caption="Today's bookings" head={["In", "Vehicle", "Where and who", "Stage", "Promised", ""]}>
              {bookings.map((b) => (
                <Row key={b.id} b={b} looks={may("look over")} here={b.arrivesAt <= now} />
              ))}
            </Table>
          )}
        </Panel>
        <Conditions yard={yard.data} />
        <div className="xl:col-span-2">
          <Hours now={now} />
        </div>
      </div>
    </>
  );
}

const stageTone: Record<Card["stage"], Tone> = {
  booked: "plain",
  cancelled: "plain",
  "did not come": "plain",
  "looked over": "plain",
  "in the bay": "tide",
  "broken off": "rust",
  "to audit": "amber",
  "being audited": "amber",
  rework: "rust",
  failed: "rust",
  ready: "moss",
  "handed over": "plain",
  "come back": "rust",
};

/** Where nothing is left to be done. */
const over = new Set<Card["stage"]>(["cancelled", "did not come", "ready", "handed over"]);

function Row({ b, looks, here }: { b: Card; looks: boolean; here: boolean }) {
  return (
    <tr className="max-sm:grid max-sm:grid-cols-[4.5rem_1fr_auto] max-sm:items-start max-sm:py-1.5">
      <td className="num whitespace-nowrap max-sm:row-start-1">{hour(b.arrivesAt)}</td>
      <th scope="row" className="font-normal max-sm:col-auto max-sm:row-start-1">
        <Link to={`/vehicles/${b.vehicleId}`} className="hit flex items-center font-semibold underline-offset-4 hover:underline">
          {b.label}
        </Link>
        <span className="text-sm text-faded">
          <span className="num">{b.plate}</span> · {b.serviceName}
          {b.overall !== undefined && `, grade ${b.overall}`}
        </span>
      </th>
      <td className="max-sm:col-span-2 max-sm:row-start-2">
        {b.place.name}
        <br />
        <span className="text-sm text-faded">{b.washer?.name ?? "nobody yet"}</span>
      </td>
      <td className="min-w-36 max-sm:row-start-1 max-sm:text-right">
        <Tag tone={stageTone[b.stage]}>
          {sentence(b.stage)}
          {b.score !== undefined && ` · ${b.score}`}
        </Tag>
        {b.said?.why && <span className="mt-1 block text-sm">{b.said.why}</span>}
        {b.stage === "in the bay" && (
          <span className="mt-1 block text-sm">
            {doing(b)}
            <span
              className="mt-0.5 block h-1.5 w-32 overflow-hidden rounded-full bg-line"
              role="img"
              aria-label={`${Math.round(b.progress * 100)} % done`}
            >
              <span className="block h-full bg-tide" style={{ width: `${b.progress * 100}%` }} />
            </span>
          </span>
        )}
      </td>
      <td className="max-sm:row-start-2">
        <span className="text-sm text-faded sm:hidden">promised </span>
        <span className="num">{hour(b.promisedAt)}</span>
        {b.stage === "in the bay" && b.readyAt && (
          <span className={`block text-sm ${b.lateBy > 0 ? "font-semibold text-rust" : "text-faded"}`}>
            ready {hour(b.readyAt)}
            {b.lateBy > 0 && `, ${minutes(b.lateBy)} late`}
          </span>
        )}
      </td>
      <td className="max-sm:col-span-3">
        <div className="flex flex-wrap items-center justify-end gap-1.5 max-sm:[&>*]:min-h-14 max-sm:[&>*]:min-w-14">
          <Next b={b} looks={looks} here={here} />
          <Say b={b} />
        </div>
      </td>
    </tr>
  );
}

/** What to do next with a booking. */
function Next({ b, looks, here }: { b: Card; looks: boolean; here: boolean }) {
  switch (b.stage) {
    case "booked":
      return looks ? (
        <LinkButton to={`/look-over/${b.id}`} look={here ? "act" : "plain"} className="whitespace-nowrap">
          Look over
        </LinkButton>
      ) : null;
    case "looked over":
      return (
        <LinkButton to={`/plan/${b.id}`} look="act">
          Plan
        </LinkButton>
      );
    case "in the bay":
    case "rework":
      return <LinkButton to={`/bay/${b.washId}`}>Bay</LinkButton>;
    case "to audit":
      return <ToAudit b={b} />;
    default:
      return b.auditId ? <LinkButton to={`/audits/${b.auditId}`}>Audit</LinkButton> : null;
  }
}

/** The walk round begins at once for whoever audits; where it is refused, the page of the audits says why. */
function ToAudit({ b }: { b: Card }) {
  const go = useNavigate();
  const start = useStartAudit();
  if (!useMay()("audit") || !b.washId) return <LinkButton to="/audits">Audit</LinkButton>;
  const wash = b.washId;
  return (
    <Button disabled={start.isPending} onClick={() => start.mutate(wash, { onError: () => void go("/audits") })}>
      Audit
    </Button>
  );
}

function Conditions({ yard }: { yard: Schemas["Yard"] }) {
  const q = useQuantities();
  const w = yard.weather;
  const facts = [
    { Icon: Thermometer, text: `${q.temp(w.temp)}, ${Math.round(w.rh * 100)} % humid, dew point ${q.temp(yard.dewPoint)}` },
    { Icon: Wind, text: `Wind ${q.speed(w.wind)}` },
    {
      Icon: Sun,
      text:
        w.sunAltitude > 0
          ? `Sun ${Math.round(w.direct)} W/m², ${Math.round(w.sunAltitude)}° up in the ${compass(w.sunAzimuth)}`
          : "The sun is down",
    },
    { Icon: CloudRain, text: w.rain > 0 ? `Rain ${w.rain} mm/h` : "No rain" },
    { Icon: Droplets, text: `Water ${Math.round(yard.water.hardness)} mg/l, ${yard.water.class}; ${yard.water.solids} mg/l dissolved` },
  ];
  return (
    <Panel title="How long suds stay wet" aside={<span className="num">{hour(yard.now)}</span>}>
      <ul className="space-y-2.5">
        {yard.drying.map((d) => (
          <li key={d.panel} className="border-b border-line pb-2">
            <div className="flex items-baseline justify-between gap-2">
              <span className="font-semibold">{d.panel}</span>
              <span className="num text-lg whitespace-nowrap">{seconds(d.suds)}</span>
            </div>
            <p className="text-sm text-faded">
              {d.says} Foam {seconds(d.foam)}, rinse water {d.endless ? "over 2 h" : seconds(d.water)}.
            </p>
          </li>
        ))}
      </ul>
      <ul className="mt-3 space-y-1 text-sm">
        {facts.map(({ Icon, text }) => (
          <li key={text} className="flex gap-2">
            <Icon size={17} className="mt-0.5 shrink-0 text-faded" aria-hidden />
            {text}
          </li>
        ))}
      </ul>
      <p className="mt-2 text-sm">
        Weather: {yard.weatherFrom.says}. Water: {yard.waterFrom.says}. <Link to="/settings/readings">Say what it is</Link>
      </p>
      <details className="mt-2 text-sm">
        <summary className="font-semibold text-tide">Where these numbers come from</summary>
        <p className="mt-1">
          An energy balance of the wet panel: sun taken up, air and sky against water evaporating, with the weather as it is known at{" "}
          {hour(yard.now)}. A film may lose six tenths before it marks. A hot panel first dries off what its own heat can. Model, checked
          against psychrometric tables.
        </p>
      </details>
    </Panel>
  );
}

const compass = (deg: number) =>
  ["north", "north-east", "east", "south-east", "south", "south-west", "west", "north-west"][Math.round(deg / 45) % 8];
