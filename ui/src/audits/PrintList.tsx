import { useQuery } from "@tanstack/react-query";
import { useParams } from "react-router";
import { ask, client } from "../api/client";
import { keys } from "../api/keys";
import { useMe } from "../api/shop";
import { day } from "../kit/format";
import { Button, Head, LinkButton, Loading, Table, Trouble } from "../kit/kit";

/** A checklist on paper, to be ticked where no device is at hand: the newest version that is in use. */
export function PrintList() {
  const { id = "" } = useParams();
  const me = useMe().data;
  const view = useQuery({
    queryKey: keys.checklist(id),
    queryFn: () => ask(client.GET("/checklists/{id}", { params: { path: { id } } })),
  });
  if (view.isPending) return <Loading what="the list" />;
  const v = view.data?.[0];
  if (!v) return <Trouble error={view.error} retry={() => void view.refetch()} />;
  return (
    <>
      <style>{`@page { margin: 12mm } @media print { body { background: white } tr { break-inside: avoid } }`}</style>
      <Head title={v.list.title} sub={`${me?.shopName ?? ""} · version ${v.list.version}${v.at ? `, ${day(v.at)}` : ""}`}>
        <span className="no-print flex flex-wrap gap-2">
          <LinkButton to={`/audits/lists/${id}`}>Back</LinkButton>
          <Button look="act" onClick={() => window.print()}>
            Print
          </Button>
        </span>
      </Head>
      {v.list.about && <p className="mb-3">{v.list.about}</p>}
      <p className="mb-3 flex flex-wrap gap-x-10 gap-y-2">
        {["Vehicle", "Washed by", "Audited by", "Light", "Date"].map((what) => (
          <span key={what} className="inline-block min-w-44 border-b border-ink pb-1">
            {what}:
          </span>
        ))}
      </p>
      <Table stacks caption="What is looked at" head={["", "Look at", "Done when", "Passes", "Found, where, how bad"]}>
        {v.list.items.map((i, n) => (
          <tr key={i.id}>
            <td className="num align-top">{n + 1}</td>
            <th scope="row" className="text-left align-top sm:min-w-40 font-normal">
              <b>{i.title}</b>
              <span className="block text-sm">{i.how}</span>
            </th>
            <td className="align-top text-sm">
              {i.done}
              {(i.lets ?? []).map((l) => (
                <span key={l.kind} className="block">{`Let pass: up to ${l.most}${l.unit === "%" ? " %" : ""}, ${l.kind}.`}</span>
              ))}
              {i.light && <span className="block">Not at dusk.</span>}
              {i.photo && <span className="block">A finding wants a photo.</span>}
            </td>
            <td className="align-top">
              <span className="block h-6 w-6 border-2 border-ink" aria-hidden />
            </td>
            <td className="align-top text-sm text-faded sm:w-2/5">{i.kinds.join(" · ")}</td>
          </tr>
        ))}
      </Table>
      <p className="mt-3 text-sm">Damage, or a suspected fault of brakes, battery or lights: note it and refer to a licensed workshop.</p>
    </>
  );
}
