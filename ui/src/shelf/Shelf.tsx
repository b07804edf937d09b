import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type Schemas, ask, client } from "../api/client";
import { useMe } from "../api/shop";
import { money, seconds, sentence, useQuantities } from "../kit/format";
import { Choice, Field, Figure, Head, inputLook, Loading, Panel, Select, Table, Trouble } from "../kit/kit";

export function Shelf() {
  const shelf = useQuery({ queryKey: ["shelf"], queryFn: () => ask(client.GET("/shelf")), staleTime: 60_000 });
  const me = useMe().data;
  if (shelf.isPending) return <Loading what="the shelf" />;
  if (!shelf.data) return <Trouble error={shelf.error} retry={() => void shelf.refetch()} />;
  return (
    <>
      <Head title="Shelf" sub="What a label's ratio really means, and how much to pour." />
      <div className="grid gap-4 xl:grid-cols-[24rem_1fr]">
        <Bench />
        <Panel title="Products">
          <Table
            caption="Products"
            head={["Product", "Parts", "One part in", "Water first", "Percent", "Label reads", "Dwell to", "A litre"]}
          >
            {shelf.data.products.map((p) => (
              <tr key={p.id}>
                <th scope="row">
                  {p.name}
                  <span className="block text-sm font-normal text-faded">
                    {p.class}
                    {p.cautions && ` · ${p.cautions}`}
                  </span>
                </th>
                {p.readings ? (
                  <>
                    <td className="num whitespace-nowrap">{p.readings.partsPlusParts}</td>
                    <td className="num whitespace-nowrap">{p.readings.onePartIn}</td>
                    <td className="num whitespace-nowrap">{p.readings.waterFirst}</td>
                    <td className="num whitespace-nowrap">{p.readings.percent.toPrecision(3)} %</td>
                    <td>{p.reading}</td>
                  </>
                ) : (
                  <td colSpan={5} className="text-faded">
                    neat, ready to use
                  </td>
                )}
                <td className="num whitespace-nowrap">{p.dwellMax ? seconds(p.dwellMax) : "–"}</td>
                <td className="num whitespace-nowrap">{money(p.costPerLitre, me?.currency ?? "")}</td>
              </tr>
            ))}
          </Table>
        </Panel>
      </div>
    </>
  );
}

function Bench() {
  const us = useMe().data?.units === "us";
  const q = useQuantities();
  const [first, setFirst] = useState("1");
  const [second, setSecond] = useState("10");
  const [reading, setReading] = useState<Schemas["Reading"]>("parts plus parts");
  const [amount, setAmount] = useState("1");
  const [unit, setUnit] = useState<Schemas["MixQuestion"]["unit"]>(us ? "US fl oz" : "l");
  const body = { first: Math.round(Number(first)), second: Math.round(Number(second)), reading, amount: Number(amount), unit };
  const mix = useQuery({
    queryKey: ["mix", body],
    queryFn: () => ask(client.POST("/mix", { body })),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    retry: false,
  });
  const a = mix.data;
  return (
    <Panel title="Mix for the vessel in hand">
      <div className="grid gap-3">
        <div className="grid grid-cols-[1fr_auto_1fr] items-end gap-2">
          <Field label="As printed">
            <input className={`num ${inputLook}`} inputMode="numeric" value={first} onChange={(e) => setFirst(e.target.value)} />
          </Field>
          <span className="pb-2 text-2xl">:</span>
          <input
            aria-label="Second number"
            className={`num ${inputLook}`}
            inputMode="numeric"
            value={second}
            onChange={(e) => setSecond(e.target.value)}
          />
        </div>
        <Choice
          label="Which means"
          value={reading}
          onChange={setReading}
          options={[
            { value: "parts plus parts", label: "Parts + parts" },
            { value: "one part in", label: "One part in" },
            { value: "water first", label: "Water first" },
          ]}
        />
        <div className="grid grid-cols-2 gap-2">
          <Field label="Vessel holds">
            <input className={`num ${inputLook}`} inputMode="decimal" value={amount} onChange={(e) => setAmount(e.target.value)} />
          </Field>
          <Field label="Unit">
            <Select
              value={unit}
              onChange={setUnit}
              options={(["ml", "l", "US fl oz", "US gal", "imp fl oz", "imp gal"] as const).map((u) => ({ value: u, label: u }))}
            />
          </Field>
        </div>
        {mix.error && <Trouble error={mix.error} />}
        {a && !mix.error && (
          <div aria-live="polite" className="grid gap-3 rounded-xl bg-tide-wash p-3">
            <div className="flex gap-8">
              <Figure value={q.volume(a.product)} label="product" />
              <Figure value={q.volume(a.water)} label="water" />
            </div>
            <p className="num">
              {a.readings.partsPlusParts} · {a.readings.onePartIn} · {a.readings.waterFirst} · {a.readings.percent.toPrecision(3)} %
            </p>
            <p className="text-sm">If that much water is in the vessel already, add {q.volume(a.toWater)}.</p>
            {a.misread.map((m) => (
              <p key={m.reading} className="text-sm">
                Read as “{m.reading}” it would be {q.volume(m.product)}:{" "}
                <b>
                  {m.times >= 1.005
                    ? `${m.times.toPrecision(3)} times as strong`
                    : m.times > 0.995
                      ? "the same"
                      : `${Math.round(m.times * 100)} % of the strength`}
                </b>
                .
              </p>
            ))}
            <p className="text-sm text-faded">{sentence("the label and its safety sheet come first.")} Never mix products in one vessel.</p>
          </div>
        )}
      </div>
    </Panel>
  );
}
