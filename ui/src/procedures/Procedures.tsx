import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useDeferredValue, useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { type Schemas, ask, client } from "../api/client";
import { useYard, useMay } from "../api/shop";
import { day, minutes, sentence } from "../kit/format";
import { Button, Empty, Field, Head, inputLook, Loading, Select, Table, Tag, Trouble } from "../kit/kit";
import { keys } from "../api/keys";

type Card = Schemas["ProcedureCard"];

/** The library: what the shop washes by, and what would suit a car in the yard. */
export function Procedures() {
  const may = useMay();
  const [booking, setBooking] = useState("");
  const [search, setSearch] = useState("");
  const [grade, setGrade] = useState("any");
  const [show, setShow] = useState<"in use" | "all">("in use");
  const wanted = useDeferredValue(search.trim().toLowerCase());
  const library = useQuery({
    queryKey: keys.procedures(booking),
    queryFn: () => ask(client.GET("/procedures", { params: { query: booking ? { booking } : {} } })),
  });
  const yard = useYard();
  const cars = yard.data?.bookings.filter((b) => b.overall !== undefined) ?? [];
  if (library.isPending) return <Loading what="the procedures" />;
  if (!library.data) return <Trouble error={library.error} retry={() => void library.refetch()} />;
  const order = { recommended: 0, possible: 1, refused: 2 };
  const cards = library.data
    .filter((c) => show === "all" || !c.retired)
    .filter((c) => !wanted || `${c.title} ${c.fits} ${c.family} ${c.note ?? ""}`.toLowerCase().includes(wanted))
    .filter((c) => grade === "any" || takes(c, Number(grade)))
    .sort((a, b) =>
      a.verdict && b.verdict
        ? order[a.verdict] - order[b.verdict] || (a.minutes ?? 0) - (b.minutes ?? 0)
        : familyNumber(a) - familyNumber(b),
    );
  return (
    <>
      <Head title="Procedures" sub="The shop's ways to wash. Conditions decide which steps a car gets; published versions never change.">
        {may("write procedures") && <Begin />}
      </Head>
      <div className="mb-3 grid gap-3 sm:grid-cols-2 xl:grid-cols-[1.4fr_1fr_1fr_1.6fr]">
        <Field label="Search">
          <input className={inputLook} type="search" value={search} onChange={(e) => setSearch(e.target.value)} />
        </Field>
        <Field label="Takes grade">
          <Select value={grade} onChange={setGrade} options={["any", "0", "1", "2", "3", "4"]} />
        </Field>
        <Field label="Show">
          <Select value={show} onChange={setShow} options={["in use", "all"] as const} />
        </Field>
        <Field label="Would it suit">
          <Select
            value={booking}
            onChange={setBooking}
            options={[
              { value: "", label: "No car in particular" },
              ...cars.map((b) => ({ value: b.id, label: `${b.label}, ${b.place.name}` })),
            ]}
          />
        </Field>
      </div>
      {cards.length === 0 ? (
        <Empty>No procedure matches. Search for something else, or write a new one.</Empty>
      ) : (
        <Table caption="Procedures" head={["Procedure", "Grades", "Steps", booking ? "For this car" : "Published", ""]}>
          {cards.map((c) => (
            <tr key={c.id} className="align-top">
              <th scope="row" className="max-w-xl font-normal">
                <Link to={`/procedures/${c.id}`} className="font-semibold text-tide underline-offset-4 hover:underline">
                  {c.title}
                </Link>
                <span className="block text-sm text-faded">{c.fits}</span>
              </th>
              <td className="num whitespace-nowrap">{c.grades}</td>
              <td className="num">{c.steps}</td>
              <td className="max-w-md">
                {c.verdict ? (
                  <>
                    <Tag tone={c.verdict === "recommended" ? "moss" : c.verdict === "refused" ? "rust" : "plain"}>
                      {sentence(c.verdict)}
                      {c.minutes ? ` · ${minutes(c.minutes)}` : ""}
                    </Tag>
                    <span className="block text-sm text-faded">{c.verdict === "refused" ? c.why?.[0] : c.why?.slice(1).join(" ")}</span>
                  </>
                ) : c.publishedAt ? (
                  <span className="text-sm text-faded">
                    Version {c.version}, {day(c.publishedAt)}
                    {c.by && `, ${c.by}`}
                  </span>
                ) : null}
              </td>
              <td className="whitespace-nowrap">
                {c.draft && <Tag tone="amber">Draft</Tag>} {c.retired && <Tag>Retired</Tag>}
              </td>
            </tr>
          ))}
        </Table>
      )}
    </>
  );
}

const familyNumber = (c: Card) => Number(c.family.replace(/\D/g, "")) || 99;

function takes(c: Card, grade: number) {
  const [low, high] = c.grades.split(" to ").map(Number);
  return low !== undefined && low <= grade && grade <= (high ?? low);
}

const shortName = (title: string) =>
  title
    .toLowerCase()
    .normalize("NFD")
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-|-$/g, "")
    .slice(0, 60);

/** Begins a blank procedure, or reads one from a document. */
function Begin() {
  const go = useNavigate();
  const queries = useQueryClient();
  const file = useRef<HTMLInputElement>(null);
  const [title, setTitle] = useState("");
  const [asking, setAsking] = useState(false);
  const begun = (v: Schemas["ProcedureView"]) => {
    void queries.invalidateQueries({ queryKey: keys.procedures() });
    void go(`/procedures/${v.id}/write`);
  };
  const begin = useMutation({
    mutationFn: () => ask(client.POST("/procedures", { body: { id: shortName(title), title: title.trim() } })),
    onSuccess: begun,
  });
  const read = useMutation({
    mutationFn: async (chosen: File) => {
      const text = await chosen.text();
      return ask(client.POST("/procedures-import", { body: text as never, bodySerializer: (b) => b as unknown as string }));
    },
    onSuccess: begun,
  });
  return (
    <div className="grid justify-items-end gap-2">
      <div className="flex flex-wrap gap-2">
        <Button onClick={() => file.current?.click()}>Import a file</Button>
        <input
          ref={file}
          type="file"
          accept="application/json,.json"
          aria-label="Procedure document"
          className="sr-only"
          tabIndex={-1}
          onChange={(e) => e.target.files?.[0] && read.mutate(e.target.files[0])}
        />
        <Button look="act" onClick={() => setAsking(!asking)} aria-expanded={asking}>
          New procedure
        </Button>
      </div>
      {asking && (
        <form
          className="flex gap-2"
          onSubmit={(e) => {
            e.preventDefault();
            if (shortName(title)) begin.mutate();
          }}
        >
          <input
            aria-label="Its title"
            className={`${inputLook} w-64!`}
            value={title}
            maxLength={120}
            autoFocus
            placeholder="Its title"
            onChange={(e) => setTitle(e.target.value)}
          />
          <Button look="act" type="submit" disabled={!shortName(title) || begin.isPending}>
            Begin
          </Button>
        </form>
      )}
      {begin.error && <Trouble error={begin.error} />}
      {read.error && <Trouble error={read.error} />}
    </div>
  );
}
