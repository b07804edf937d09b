import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useLocation } from "react-router";
import { type Schemas, ask, client } from "../api/client";
import { useMe, useShelf, useMay } from "../api/shop";
import { day, seconds, sentence, useQuantities } from "../kit/format";
import { Entry, NumberField, PickField, TextField, useEntry } from "../kit/form";
import { Button, Choice, Head, Loading, Panel, Table, Tag, Trouble } from "../kit/kit";
import { Ratio } from "../kit/ratio";
import { Bench } from "./Bench";
import { Label } from "./Label";
import { Today } from "./Today";
import { keys } from "../api/keys";

/** What stands on the shelf, how long it lasts, and the bench to mix it at. */
export function Shelf() {
  const shelf = useShelf();
  if (shelf.isPending) return <Loading what="the shelf" />;
  if (!shelf.data) return <Trouble error={shelf.error} retry={() => void shelf.refetch()} />;
  return <Filled shelf={shelf.data} />;
}

function Filled({ shelf }: { shelf: Schemas["Shelf"] }) {
  const { hash } = useLocation();
  useEffect(() => document.getElementById(hash.slice(1))?.scrollIntoView(), [hash]); // a link may lead to one part of the page
  const order = shelf.products.filter((p) => p.forecast?.orderNow).map((p) => p.name);
  return (
    <>
      <Head
        title="Shelf"
        sub={
          order.length ? `Order now: ${order.join(", ")}.` : "What a label's ratio really means, how much to pour, and how long it lasts."
        }
      />
      <div className="grid items-start gap-4 xl:grid-cols-[22rem_minmax(0,1fr)]">
        <div className="xl:sticky xl:top-4 xl:max-h-[calc(100dvh-2rem)] xl:overflow-auto">
          <Bench products={shelf.products} />
        </div>
        <div className="grid min-w-0 gap-4">
          <Today />
          <Products products={shelf.products} />
          <Cloths cloths={shelf.cloths} />
          <Bucket />
        </div>
      </div>
    </>
  );
}

function Products({ products }: { products: Schemas["ShelfItem"][] }) {
  const rights = useMay();
  const keeps = rights("keep the shelf");
  const q = useQuantities();
  const [counting, setCounting] = useState("");
  const [writing, setWriting] = useState("");
  const may = rights("look over");
  return (
    <Panel
      title="Products"
      aside={
        keeps && (
          <Button className="min-h-hit" onClick={() => setWriting(writing === "new" ? "" : "new")}>
            Add a product
          </Button>
        )
      }
    >
      {writing && (
        <Label
          key={writing}
          {...(writing === "new" ? {} : { item: products.find((p) => p.id === writing) as Schemas["ShelfItem"] })}
          done={() => setWriting("")}
        />
      )}
      <Table stacks caption="Products" head={["Product", "Ratio", "Left", ""]}>
        {products.map((p) => (
          <tr key={p.id} className="align-top">
            <th scope="row" className="font-normal sm:w-2/5">
              <b>{p.name}</b>
              <span className="block text-sm text-faded">
                {[p.class, p.dwellMax > 0 && `works at most ${seconds(p.dwellMax)}`].filter(Boolean).join(", ")}
                {p.cautions && <b className="block font-semibold text-ink">{sentence(p.cautions)}</b>}
              </span>
            </th>
            <td data-head="Ratio" className="max-sm:col-span-2">
              {p.readings ? (
                <>
                  <Ratio readings={p.readings} note={`The label reads “${p.reading}”.`} />
                  {p.shop && (
                    <span className="block text-sm font-semibold text-rust">But {p.shop}: two strengths for the same numbers.</span>
                  )}
                </>
              ) : (
                <span className="text-faded">as it comes</span>
              )}
            </td>
            <td data-head="Left" className="min-w-44 max-sm:col-span-2">
              {p.forecast ? (
                <>
                  <b className="num">{q.volume(p.forecast.left)}</b>{" "}
                  {p.forecast.orderNow ? (
                    <Tag tone="rust">Order now</Tag>
                  ) : (
                    p.forecast.orderBy && <span className="text-sm">order by {day(p.forecast.orderBy)}</span>
                  )}
                  <span className="block text-sm text-faded">{p.forecast.says}</span>
                </>
              ) : (
                <span className="text-faded">not counted</span>
              )}
              {counting === p.id && <Count p={p} done={() => setCounting("")} />}
            </td>
            <td className="whitespace-nowrap">
              {may && (
                <Button className="min-h-hit" onClick={() => setCounting(counting === p.id ? "" : p.id)}>
                  Count
                </Button>
              )}{" "}
              {keeps && (
                <Button className="min-h-hit" onClick={() => setWriting(p.id)}>
                  Label
                </Button>
              )}
            </td>
          </tr>
        ))}
      </Table>
    </Panel>
  );
}

function Count({ p, done }: { p: Schemas["ShelfItem"]; done: () => void }) {
  const us = useMe().data?.units === "us";
  const queries = useQueryClient();
  const of = useEntry({
    start: { left: undefined as number | undefined, leadDays: p.stock?.leadDays ?? 6 },
    save: ({ left = 0, leadDays }) =>
      ask(
        client.PUT("/shelf/{id}/count", {
          params: { path: { id: p.id } },
          body: { version: p.version, left: { amount: left, unit: us ? "US fl oz" : "ml" }, leadDays },
        }),
      ),
    said: `${p.name}: counted.`,
    onSaved: (next) => {
      queries.setQueryData(keys.shelf(), next);
      done();
    },
  });
  return (
    <Entry of={of} act="Save" className="mt-2 grid gap-2">
      <NumberField form={of.form} name="left" label={`Left, ${us ? "fl oz" : "ml"}`} min={0} max={1_000_000} step={0.1} />
      <NumberField form={of.form} name="leadDays" label="Days to deliver" min={0} max={365} />
    </Entry>
  );
}

function Cloths({ cloths }: { cloths: Schemas["ClothItem"][] }) {
  const keeps = useMay()("keep the shelf");
  const queries = useQueryClient();
  const [adding, setAdding] = useState(false);
  const retire = useMutation({
    meta: { said: "Set retired." },
    mutationFn: (id: string) => ask(client.POST("/cloths/{id}/retire", { params: { path: { id } } })),
    onSuccess: (next) => queries.setQueryData(keys.shelf(), next),
  });
  return (
    <Panel
      id="cloths"
      title="Cloths"
      aside={
        keeps && (
          <Button className="min-h-hit" onClick={() => setAdding(!adding)}>
            Add a set
          </Button>
        )
      }
    >
      {adding && <AddCloths done={() => setAdding(false)} />}
      {retire.error && <Trouble error={retire.error} />}
      <Table stacks caption="Cloths" head={["Cloth", "Where it may go", "In the set", "Washes per cloth", "", ""]}>
        {cloths.map((c) => (
          <tr key={c.id}>
            <th scope="row">{c.kind}</th>
            <td data-head="Where it may go">{c.colour}</td>
            <td data-head="In the set" className="num">
              {c.count}
            </td>
            <td data-head="Washes per cloth" className="num">
              {c.wear.each} of {c.limit}
            </td>
            <td className={c.wear.retired ? "font-semibold text-rust" : "text-faded"}>{c.wear.says}</td>
            <td>
              {keeps && (
                <Button className="min-h-hit" onClick={() => retire.mutate(c.id)}>
                  Retire
                </Button>
              )}
            </td>
          </tr>
        ))}
      </Table>
      <p className="mt-2 text-sm text-faded">
        Counted from the plans of finished washes. Mild liquid, no softener, no powder, no hot tumble; cut the tags off.
      </p>
    </Panel>
  );
}

const colours = [
  "tide: paint",
  "rust: wheels only",
  "white: drying",
  "slate: shuts",
  "sky: glass",
  "moss: protection",
  "sand: inside",
] as const;

function AddCloths({ done }: { done: () => void }) {
  const queries = useQueryClient();
  const of = useEntry<Schemas["ClothSet"], Schemas["Shelf"]>({
    start: { kind: "", colour: colours[0], count: 10, limit: 100 },
    save: (body) => ask(client.POST("/cloths", { body })),
    said: "Set added.",
    onSaved: (next) => {
      queries.setQueryData(keys.shelf(), next);
      done();
    },
  });
  const { form } = of;
  return (
    <Entry of={of} act="Save" className="mb-3 grid gap-3">
      <div className="grid gap-3 md:grid-cols-[1.4fr_1.2fr_6rem_9rem]">
        <TextField form={form} name="kind" label="Kind" maxLength={60} rules={{ required: "say what they are" }} />
        <PickField form={form} name="colour" label="Colour" options={colours} />
        <NumberField form={form} name="count" label="How many" min={1} max={1000} />
        <NumberField form={form} name="limit" label="Stands how many washes" min={1} max={1000} />
      </div>
    </Entry>
  );
}

/** How the rinse bucket clears, and what a guard is worth. */
function Bucket() {
  const [water, setWater] = useState("20");
  const { temp } = useQuantities();
  const tale = useQuery({
    queryKey: keys.bucket(water),
    queryFn: () => ask(client.GET("/bucket", { params: { query: { water: Number(water) } } })),
    placeholderData: (was) => was,
    staleTime: Infinity,
  }).data;
  if (!tale) return null;
  const most = Math.max(...tale.bare, 1);
  return (
    <Panel title="The rinse bucket">
      <div className="grid gap-6 md:grid-cols-2">
        <div>
          <Choice
            label="Its water has"
            value={water}
            onChange={setWater}
            options={["5", "10", "20", "35"].map((c) => ({ value: c, label: temp(Number(c)) }))}
          />
          <p className="mt-3">
            Half the harmful grit has settled under the guard after <b className="num">{seconds(tale.halfAt)}</b>, nine tenths after{" "}
            <b className="num">{seconds(tale.cleanAt)}</b>.{" "}
            {tale.changeAt > 0 && (
              <>
                Change the water after <b className="num">{tale.changeAt}</b> rinses of a moderately dirty car.
              </>
            )}
          </p>
          <ul className="mt-2 list-disc pl-5 text-sm text-faded">
            {tale.says.map((s) => (
              <li key={s}>{s}</li>
            ))}
          </ul>
        </div>
        <figure>
          <figcaption className="mb-1 font-semibold">Grit that comes back with the mitt, mg a rinse</figcaption>
          <table className="w-full text-sm">
            <thead>
              <tr className="text-left text-faded">
                <th scope="col">Rinse</th>
                <th scope="col">With a guard</th>
                <th scope="col">Without</th>
              </tr>
            </thead>
            <tbody>
              {tale.guarded.map((g, i) =>
                i % 2 === 0 ? null : (
                  <tr key={i}>
                    <td className="num">{i + 1}</td>
                    <td>
                      <Bar share={g / most} tone="bg-tide" /> <span className="num">{g}</span>
                    </td>
                    <td>
                      <Bar share={(tale.bare[i] ?? 0) / most} tone="bg-rust" /> <span className="num">{tale.bare[i]}</span>
                    </td>
                  </tr>
                ),
              )}
            </tbody>
          </table>
          <p className="mt-1 text-xs text-faded">Settling by Ferguson and Church (2004); grain sizes and bucket are our model.</p>
        </figure>
      </div>
    </Panel>
  );
}

const Bar = ({ share, tone }: { share: number; tone: string }) => (
  <span className="inline-block h-2.5 w-24 rounded-full bg-line align-middle" aria-hidden>
    <span className={`block h-full rounded-full ${tone}`} style={{ width: `${Math.max(3, share * 100)}%` }} />
  </span>
);
