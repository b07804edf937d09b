import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";
import { type Schemas, ask, client } from "../api/client";
import { keys } from "../api/keys";
import { useMay, useMe } from "../api/shop";
import { Car } from "../car/Car";
import { sentence } from "../kit/format";
import { Button, Head, LinkButton, Loading, Trouble } from "../kit/kit";

type Card = Schemas["Lesson"];
type Skill = Schemas["Skill"];

/** A skill's card: the job in a minute, in detail with questions before answers, as this shop does it; prints for the wall. */
export function Lesson() {
  const { skill = "mitt" } = useParams();
  const may = useMay();
  const me = useMe().data;
  const card = useQuery({
    queryKey: keys.lesson(skill),
    queryFn: () => ask(client.GET("/lessons/{skill}", { params: { path: { skill: skill as Skill } } })),
  });
  if (card.isPending) return <Loading what="the lesson" />;
  if (!card.data) return <Trouble error={card.error} retry={() => void card.refetch()} />;
  const { rubric } = card.data;
  return (
    <>
      <style>{paper}</style>
      <div className="no-print">
        <Head title={`Lesson: ${rubric.skill}`} sub="One screen, and a card for the wall.">
          <LinkButton to="/training">Training</LinkButton>
          {may("write procedures") && <LinkButton to={`/training/lessons/${skill}/write`}>Change it</LinkButton>}
          <a
            download
            className="hit grid min-w-hit place-items-center rounded-xl px-2 text-tide underline underline-offset-4"
            href={`/api/rubrics/${encodeURIComponent(skill)}/export?format=markdown`}
          >
            Text
          </a>
          <Button look="act" onClick={() => window.print()}>
            Print the card
          </Button>
        </Head>
      </div>
      <article className="sheet grid max-w-3xl gap-4 rounded-2xl border border-line bg-paper p-4">
        <header className="flex items-start justify-between gap-4">
          <div>
            <h2 className="text-2xl font-bold">{sentence(rubric.skill)}</h2>
            <p className="text-faded">{rubric.why}</p>
          </div>
          <div className="w-36 shrink-0 sm:w-48">
            <Drawn picture={card.data.picture} />
          </div>
        </header>
        <section>
          <h3 className="font-bold">In a minute</h3>
          <ol className="mt-1 grid list-decimal gap-1 pl-6 text-lg">
            {rubric.minute.map((m) => (
              <li key={m}>{m}</li>
            ))}
          </ol>
        </section>
        <Rules rules={rubric.rules} />
        <Here card={card.data} />
        <section>
          <h3 className="font-bold">Watched for</h3>
          <ul className="mt-1 grid list-disc gap-0.5 pl-5">
            {rubric.criteria.map((c) => (
              <li key={c.id}>
                {c.text} {c.must && <span className="text-sm text-faded">(must)</span>}
              </li>
            ))}
          </ul>
        </section>
        <footer className="border-t border-line pt-2 text-sm text-faded">
          {`${me?.shopName ?? ""} · version ${rubric.version} · Local codes, labels and safety data sheets come first.`}
        </footer>
      </article>
    </>
  );
}

/** On paper the card is one sheet in two columns, without its frame. */
const paper = `@page { margin: 10mm } @media print { body { background: white }
.sheet { border: 0 !important; padding: 0 !important; background: white !important; max-width: none !important; font-size: 13px;
  grid-template-columns: 1fr 1fr; gap: 10px 16px !important; align-items: start }
.sheet > header, .sheet > footer { grid-column: 1 / -1 } .sheet ol { font-size: 16px } .sheet span { font-size: 12px } }`;

/** Asked first, told after a pause; on paper both. */
function Rules({ rules }: { rules: Schemas["TaughtRule"][] }) {
  const [told, setTold] = useState<number[]>([]);
  if (rules.length === 0) return null;
  return (
    <section>
      <h3 className="font-bold">Think first</h3>
      <ul className="mt-1 grid gap-2">
        {rules.map((r, i) => (
          <li key={r.rule} className="rounded-xl bg-chalk p-3">
            <p className="font-semibold">{r.ask || r.rule}</p>
            {r.ask && !told.includes(i) && (
              <Button className="mt-2 no-print" onClick={() => setTold([...told, i])}>
                Show the answer
              </Button>
            )}
            <p className={r.ask && !told.includes(i) ? "hidden print:block" : ""}>
              {r.ask && <b>{r.rule} </b>}
              {r.because}
            </p>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** What this shop does: its answers to what the trade disagrees on, its own steps, cloths and vessels. */
function Here({ card }: { card: Card }) {
  if (card.here.length + card.steps.length + card.vessels.length === 0) return null;
  return (
    <section>
      <h3 className="font-bold">As it is done here</h3>
      <dl className="mt-1 grid gap-1">
        {card.here.map((h) => (
          <div key={h.question} className="flex flex-wrap justify-between gap-x-4 border-b border-line pb-1">
            <dt>{h.question}</dt>
            <dd>
              <b>{sentence(h.answer)}</b> <span className="text-sm text-faded">{h.why}</span>
            </dd>
          </div>
        ))}
      </dl>
      <ul className="mt-2 grid gap-1.5">
        {card.steps.map((s) => (
          <li key={s.title}>
            <b>{s.title}</b>
            {s.cloth && <span className="text-sm font-semibold text-tide">{` ${[s.colour, s.cloth].filter(Boolean).join(", ")}`}</span>}
            <span className="block text-sm">{s.text}</span>
          </li>
        ))}
        {card.vessels.map((v) => (
          <li key={v} className="text-sm">
            {v}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** What is done, drawn: for a glance, and for somebody who reads the language poorly. */
function Drawn({ picture }: { picture: Card["picture"] }) {
  if (!picture) return null;
  if (picture === "car" || picture === "shuts" || picture === "jet" || picture === "foam" || picture === "towel") {
    const flats = ["roof", "bonnet", "boot-lid", "windscreen"] as const;
    const lit = { car: undefined, shuts: ["shuts"] as const, towel: flats, jet: undefined, foam: undefined }[picture];
    const way = ({ jet: "down", foam: "up", towel: "along" } as const)[picture as "jet" | "foam" | "towel"] as Schemas["Way"] | undefined;
    const sides = ["upper-left", "upper-right", "lower-left", "lower-right"] as const;
    const zones = lit ?? (way ? sides : undefined);
    return <Car body="hatch" {...(zones && { lit: zones })} {...(way && { way })} />;
  }
  return (
    <svg viewBox="0 0 120 80" role="img" aria-label={`Drawing: ${picture}`} className="block w-full">
      <g fill="none" stroke="var(--ink)" strokeWidth="2" strokeLinecap="round">
        {picture === "panel" && (
          <>
            <rect x="6" y="8" width="108" height="64" rx="6" fill="var(--chalk)" />
            <path d="M6 44 H114" strokeDasharray="4 3" stroke="var(--faded)" />
            {[18, 31, 57].map((y) => (
              <path key={y} d={`M14 ${y} H104 m-6 -4 l6 4 l-6 4`} stroke="var(--tide)" />
            ))}
            <rect x="10" y="12" width="24" height="14" rx="4" fill="var(--tide-wash)" />
            <path d="M84 70 a8 8 0 1 1 1 0" stroke="var(--rust)" />
            <path d="M76 54 L94 72" stroke="var(--rust)" />
          </>
        )}
        {picture === "buckets" &&
          ["wash", "rinse", "wheels"].map((name, i) => (
            <g key={name} transform={`translate(${i * 40} 8)`}>
              <path d="M4 4 H36 L32 56 H8 Z" fill="var(--paper)" />
              <path d="M6 26 H34 L32 56 H8 Z" fill="var(--tide)" fillOpacity="0.3" stroke="none" />
              <path d="M9 48 H31 M13 48 V54 M20 48 V54 M27 48 V54" />
              {name === "wash" && [10, 17, 24, 30].map((x) => <circle key={x} cx={x} cy="24" r="4" fill="var(--paper)" strokeWidth="1" />)}
              <text x="20" y="69" textAnchor="middle" stroke="none" fill="var(--ink)" fontSize="9">
                {name}
              </text>
            </g>
          ))}
        {picture === "wheel" && (
          <>
            <circle cx="60" cy="40" r="32" fill="var(--rubber)" />
            <circle cx="60" cy="40" r="22" fill="var(--paper)" />
            {[0, 72, 144, 216, 288].map((a) => (
              <path key={a} d="M60 40 V20" transform={`rotate(${a} 60 40)`} strokeWidth="5" />
            ))}
            <circle cx="77" cy="55" r="3" fill="var(--tide)" stroke="var(--tide)" />
            <path d="M30 24 A34 34 0 0 1 92 26 m-1 -9 l2 10 l-10 -1" stroke="var(--tide)" />
          </>
        )}
      </g>
    </svg>
  );
}
