import { useMutation } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { Car } from "../car/Car";
import type { Zone } from "../car/shape";
import { Button, Head, Panel, Trouble } from "../kit/kit";
import { draftOf, dropDraft, keepDraft } from "../offline/draft";
import { newId } from "../offline/ids";
import type { Answer, Light, View } from "./useWalk";
import { InHand, InWhichLight } from "./Walk";

/** A whole walk as it is sent: under an id of this device, so that it can be sent twice. */
export interface Whole {
  id: string;
  light: Light;
  answers: Record<string, Answer>;
}

interface BlindWalkProps {
  view: View;
  title: string;
  sub: string;
  /** Under what it is kept on this device until it is sent. */
  kept: string;
  send: (walk: Whole) => Promise<unknown>;
  sent: () => void;
  /** What is to be seen of a zone, beside what it may find. */
  shows?: (zone: Zone | null) => ReactNode;
}

/** A walk by somebody who does not see what was found: kept on this device, and sent whole at the end. */
export function BlindWalk({ view, title, sub, kept, send, sent, shows }: BlindWalkProps) {
  const [mine, setMine] = useState<Omit<Whole, "light"> & { light?: Light }>(
    () => draftOf<Whole>(kept) ?? { id: newId(), answers: {} }, // without a light until it is said
  );
  const [zone, setZone] = useState<Zone | null>(null);
  const [opened, setOpened] = useState("");
  const hold = (next: typeof mine) => {
    keepDraft(kept, next);
    setMine(next);
  };
  const sending = useMutation({
    mutationFn: (light: Light) => send({ ...mine, light }),
    onSuccess: () => {
      dropDraft(kept);
      sent();
    },
  });
  const items = view.checklist.items.filter((i) => view.result.open.includes(i.id) && !(i.light && mine.light === "dusk"));
  const item = items.find((i) => i.id === opened) ?? items.find((i) => !mine.answers[i.id]);
  const answer = (of: string, a: Answer) => {
    setOpened("");
    hold({ ...mine, answers: { ...mine.answers, [of]: a } });
  };
  const last = items.filter((i) => mine.answers[i.id]).at(-1);
  return (
    <>
      <Head title={title} sub={sub} />
      <div className="grid gap-4 lg:grid-cols-[minmax(0,1fr)_26rem]">
        {shows?.(zone)}
        <div className="grid content-start gap-3 lg:col-start-2 lg:row-span-2 lg:row-start-1">
          {!mine.light && <InWhichLight onPick={(light) => hold({ ...mine, light })} />}
          {item ? (
            <InHand key={item.id} item={item} view={view} answers={mine.answers} answer={answer} zone={zone} setZone={setZone} />
          ) : (
            <Panel title="All looked at">
              <Button
                look="act"
                className="min-h-16 text-lg"
                disabled={sending.isPending || !mine.light}
                onClick={() => mine.light && sending.mutate(mine.light)}
              >
                Send my look
              </Button>
            </Panel>
          )}
          {sending.error && <Trouble error={sending.error} />}
          {last && last.id !== item?.id && (
            <Button look="quiet" className="justify-self-start" onClick={() => (setZone(null), setOpened(last.id))}>
              Back to: {last.title}
            </Button>
          )}
        </div>
        <div className="self-start rounded-2xl border border-line bg-paper p-3 lg:col-start-1">
          <Car
            body={view.spec.body}
            selected={zone}
            {...(item && { onPick: setZone })}
            {...(item && view.zones[item.id]?.length && { lit: view.zones[item.id] as Zone[] })}
            className="mx-auto max-h-[26rem]"
          />
        </div>
      </div>
    </>
  );
}
