import { useInfiniteQuery } from "@tanstack/react-query";
import { type Schemas, ask, client } from "../api/client";
import { keys } from "../api/keys";
import { day, hour, plural } from "../kit/format";
import { Button, Empty, Head, LinkButton, Loading, Table, Tag, Trouble } from "../kit/kit";

type Signed = Schemas["SignedAudit"];

/** All signed audits, however long ago, a page at a time. */
export function AllAudits() {
  const pages = useInfiniteQuery({
    queryKey: keys.audits("signed"),
    queryFn: ({ pageParam: last }) =>
      ask(client.GET("/signed-audits", { params: { query: last ? { before: last.at, id: last.id } : {} } })),
    initialPageParam: undefined as Signed | undefined,
    getNextPageParam: (last) => (last.more ? last.audits.at(-1) : undefined),
  });
  if (pages.isPending) return <Loading what="the audits" />;
  if (!pages.data) return <Trouble error={pages.error} retry={() => void pages.refetch()} />;
  const all = pages.data.pages.flatMap((p) => p.audits);
  return (
    <>
      <Head title="All audits" sub="Signed audits, the newest first. What is signed stays.">
        <LinkButton to="/audits/findings">Findings</LinkButton>
        <LinkButton to="/audits">Audits</LinkButton>
      </Head>
      {all.length === 0 ? (
        <Empty>No audit has been signed yet.</Empty>
      ) : (
        <Table stacks caption="Signed audits" head={["When", "Vehicle", "Washed by", "Walked by", "By which list", "Findings", "Result"]}>
          {all.map((a) => (
            <tr key={a.id}>
              <td data-head="When" className="whitespace-nowrap">
                {day(a.at)} {hour(a.at)}
              </td>
              <th scope="row" className="font-normal">
                <LinkButton look="quiet" to={`/audits/${a.id}`} className="px-0! text-left">
                  {a.label}
                </LinkButton>{" "}
                <span className="num text-faded">{a.plate}</span>
              </th>
              <td data-head="Washed by">{a.washer}</td>
              <td data-head="Walked by">{a.auditor}</td>
              <td data-head="By which list">
                {a.list}
                {a.round > 1 && <span className="block text-sm text-faded">{`round ${a.round}`}</span>}
              </td>
              <td data-head="Findings" className="num">
                {a.findings}
              </td>
              <td data-head="Result">
                <Tag tone={a.passed ? "moss" : "rust"}>{`${a.passed ? "Passed" : "Failed"} · ${a.score}`}</Tag>
              </td>
            </tr>
          ))}
        </Table>
      )}
      {pages.hasNextPage && (
        <Button className="mt-3" disabled={pages.isFetchingNextPage} onClick={() => void pages.fetchNextPage()}>
          Older audits
        </Button>
      )}
      <p className="mt-2 text-sm text-faded">{`${plural(all.length, "audit")} shown.`}</p>
    </>
  );
}
