import { useInfiniteQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";
import { ask, client, type Schemas } from "../api/client";
import { keys } from "../api/keys";
import { useWords } from "../api/shop";
import { day, hour, plural, sentence } from "../kit/format";
import { Button, Empty, Head, LinkButton, Loading, Panel, Tag, Trouble } from "../kit/kit";

type Visit = Schemas["VehicleVisit"];

/** What is known of a vehicle: its visits with their washes, audits and findings. */
export function Vehicle() {
  const { id = "" } = useParams();
  const pages = useInfiniteQuery({
    queryKey: keys.vehicle(id),
    queryFn: ({ pageParam }) =>
      ask(client.GET("/vehicles/{id}", { params: { path: { id }, query: { ...(pageParam && { before: pageParam }) } } })),
    initialPageParam: "",
    getNextPageParam: (last) => (last.more ? last.visits.at(-1)?.at : undefined),
  });
  const words = useWords().data;
  const first = pages.data?.pages[0];
  if (pages.isPending) return <Loading what="the vehicle" />;
  if (!first) return <Trouble error={pages.error} retry={() => void pages.refetch()} />;
  const body = words?.bodies.find((b) => b.body === first.spec.body);
  const label = (zone: string) => body?.parts.find((p) => p.zone === zone)?.label ?? zone;
  const visits = (pages.data?.pages ?? []).flatMap((p) => p.visits);
  return (
    <>
      <Head
        title={first.label}
        sub={
          <>
            <span className="num">{first.plate}</span> · {body?.label}, {first.spec.shade}, {first.spec.finish} paint
            {first.spec.electric && ", electric"}
          </>
        }
      >
        <LinkButton to="/">Yard</LinkButton>
      </Head>
      <Panel title="Visits">
        {visits.length === 0 && <Empty>It has not been here yet.</Empty>}
        <ol className="divide-y divide-line">
          {visits.map((v) => (
            <li key={v.bookingId}>
              <One v={v} label={label} />
            </li>
          ))}
        </ol>
        {pages.hasNextPage && (
          <Button disabled={pages.isFetchingNextPage} onClick={() => void pages.fetchNextPage()}>
            Older visits
          </Button>
        )}
      </Panel>
    </>
  );
}

function One({ v, label }: { v: Visit; label: (zone: string) => string }) {
  return (
    <div className="grid gap-x-4 gap-y-1 py-2 md:grid-cols-[11rem_minmax(0,1fr)_auto]">
      <p>
        {day(v.at)} <span className="num">{hour(v.at)}</span>
        <span className="block text-sm text-faded">
          {v.service}
          {v.overall !== undefined && `, grade ${v.overall}`}
        </span>
      </p>
      <div>
        <Tag>{sentence(v.stage)}</Tag> {v.washer && <>washed by {v.washer.name}</>}
        {v.declared.length > 0 && <p className="text-sm">Declared: {v.declared.join(", ")}.</p>}
        {v.findings.length > 0 && (
          <ul aria-label={plural(v.findings.length, "finding")} className="text-sm">
            {v.findings.map((f, i) => (
              <li key={i}>
                {sentence(f.kind)}, {label(f.zone)} ({f.severity})
              </li>
            ))}
          </ul>
        )}
        {v.said?.why && <p className="text-sm font-semibold">{v.said.why}</p>}
      </div>
      <p className="flex flex-wrap items-center gap-x-3">
        {v.score !== undefined && <Tag tone={v.passed ? "moss" : "rust"}>{v.score}</Tag>}
        {v.auditId && (
          <Link className="hit flex min-w-hit items-center text-tide underline underline-offset-4" to={`/audits/${v.auditId}`}>
            Audit
          </Link>
        )}
        {v.washId && (
          <Link className="hit flex min-w-hit items-center text-tide underline underline-offset-4" to={`/bay/${v.washId}`}>
            Wash
          </Link>
        )}
      </p>
    </div>
  );
}
