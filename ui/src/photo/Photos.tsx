import { useQueryClient } from "@tanstack/react-query";
import { Camera, CloudOff } from "lucide-react";
import { Dialog } from "radix-ui";
import { type ChangeEvent, type Ref, useEffect, useState, useSyncExternalStore } from "react";
import { type Schemas, ask, client } from "../api/client";
import { keys, stale } from "../api/keys";
import { hour, sentence } from "../kit/format";
import { Button } from "../kit/kit";
import { say } from "../kit/notice";
import type { WaitingPhoto } from "../offline/db";
import { keepPhoto, letGoOfPhoto, onArrival, waitingPhotos, watchPhotos } from "./queue";
import { shrink } from "./shrink";

type Photo = Schemas["PhotoView"];

interface Pinned {
  subject: WaitingPhoto["subject"];
  /** The look-over's booking, the audit, or the case. */
  of: string;
}

/** What is fetched anew when a photo of something has arrived. */
const shownIn = (subject: Pinned["subject"], of: string) =>
  ({ audit: keys.audit(of), case: keys.cases(), "look-over": keys.lookOver(of) })[subject];

/** Where a photo was taken, in words. */
const takenAt = { audit: "At the audit", "look-over": "At the look-over", case: "Of a case" } as const;

const address = (id: string, small = false) => `/api/photos/${id}${small ? "?small=true" : ""}`;

/** The photos of a look-over or an audit that wait on this device. What has arrived is fetched anew. */
export function useWaiting({ subject, of }: Pinned) {
  const queries = useQueryClient();
  const all = useSyncExternalStore(watchPhotos, waitingPhotos);
  useEffect(() => onArrival((p) => p.of === of && stale(queries, shownIn(subject, of))), [queries, subject, of]);
  return all.filter((p) => p.subject === subject && p.of === of);
}

/** What takes a photo: large enough for a wet glove. */
const shutter = "flex min-h-14 cursor-pointer items-center gap-2 rounded-xl border-2 border-line bg-paper px-4 font-semibold";

/** In the middle of the screen, and never larger. */
const sheet = "fixed inset-x-0 top-0 bottom-0 z-30 m-auto h-fit max-h-dvh w-fit max-w-full";

/** Takes a photo or chooses some: shrunk on the device, kept there, sent as soon as it can be. */
export function TakePhoto({ zone, item = "", what, ...pin }: Pinned & { zone: string; item?: string; what: string }) {
  const [trouble, setTrouble] = useState("");
  const [note, setNote] = useState("");
  const take = async (e: ChangeEvent<HTMLInputElement>) => {
    const files = [...(e.target.files ?? [])];
    e.target.value = "";
    setTrouble("");
    for (const file of files) {
      try {
        await keepPhoto({ ...pin, zone, item, note, picture: await shrink(file) });
        setNote("");
      } catch (error) {
        setTrouble(error instanceof Error ? error.message : "This photo cannot be kept.");
      }
    }
  };
  return (
    <div className="grid gap-1.5">
      <div className="flex flex-wrap gap-2">
        <label className={`${shutter} focus-within:outline-3 focus-within:outline-tide hover:border-tide`}>
          <Camera size={20} aria-hidden />
          Photo of {what}
          <input type="file" accept="image/*" multiple className="sr-only" onChange={(e) => void take(e)} />
        </label>
        <input
          aria-label="What the next photo shows"
          placeholder="What it shows, before you take it"
          value={note}
          maxLength={300}
          onChange={(e) => setNote(e.target.value)}
          className="min-h-14 min-w-48 grow rounded-xl border-2 border-line bg-paper px-3 focus:border-tide"
        />
      </div>
      {trouble && (
        <p role="alert" className="font-semibold text-rust">
          {trouble}
        </p>
      )}
    </div>
  );
}

/** Photos in a row, those on this device too; a tap shows one large. */
export function Photos({
  photos,
  waiting = [],
  name,
  title,
  of,
  dropped,
}: {
  photos: readonly Photo[];
  waiting?: readonly WaitingPhoto[];
  name: (zone: string) => string;
  title: string;
  /** What they are photos of: the look-over's booking, or the audit. */
  of: string;
  /** Is called when one was taken out; absent where none can be. */
  dropped?: () => void;
}) {
  if (photos.length + waiting.length === 0) return null;
  const whole = photos[0]?.subject === "case" ? "" : "The whole vehicle";
  const where = (zone = "") => (zone ? sentence(name(zone)) : whole);
  const told = (zone: string | undefined, note: string) => [where(zone), note].filter(Boolean).join(": ");
  return (
    <section aria-label={title}>
      <p className="mb-1.5 text-sm font-semibold">{title}</p>
      <ul className="flex flex-wrap gap-2">
        {photos.map((p) => (
          <li key={p.id}>
            <Large photo={p} of={of} where={where(p.zone)} told={told(p.zone, p.note)} {...(dropped && p.mine && { dropped })} />
          </li>
        ))}
        {waiting.map((p) => (
          <li key={p.id} className="grid w-28 content-start gap-1 text-sm">
            <img ref={shows(p.picture)} alt={told(p.zone, p.note)} className="h-21 w-28 rounded-lg border border-line object-cover" />
            {p.refused ? (
              <>
                <span role="alert" className="text-rust">{`Not kept: ${p.refused}`}</span>
                <Button onClick={() => void letGoOfPhoto(p.id)}>Let it go</Button>
              </>
            ) : (
              <span className="flex items-center gap-1 text-faded">
                <CloudOff size={14} aria-hidden /> on this device
              </span>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Shows a picture that lies on this device, for as long as it is on the page. */
const shows =
  (picture: Blob): Ref<HTMLImageElement> =>
  (img) => {
    if (!img) return;
    const url = URL.createObjectURL(picture);
    img.src = url;
    return () => URL.revokeObjectURL(url);
  };

function Large({ photo, of, where, told, dropped }: { photo: Photo; of: string; where: string; told: string; dropped?: () => void }) {
  const [open, setOpen] = useState(false);
  const drop = async () => {
    const picture = await (await fetch(address(photo.id))).blob();
    await ask(client.DELETE("/photos/{id}", { params: { path: { id: photo.id } } }));
    setOpen(false);
    dropped?.();
    const { subject, zone = "", item, note } = photo;
    say("Photo taken out", () => void keepPhoto({ subject, of, zone, item, note, picture }));
  };
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Trigger className="grid w-28 content-start gap-1 rounded-lg text-left text-sm">
        <img src={address(photo.id, true)} alt={told} className="h-21 w-28 rounded-lg border border-line object-cover" />
        <span>{where}</span>
        <span className="text-faded">{photo.late ? `late, ${hour(photo.at)}` : hour(photo.at)}</span>
      </Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-30 bg-black/60" />
        <Dialog.Content aria-describedby={undefined} className={`${sheet} grid gap-3 overflow-auto rounded-2xl bg-paper p-4`}>
          <Dialog.Title className="text-lg font-bold">{told}</Dialog.Title>
          <img
            src={address(photo.id)}
            width={photo.width}
            height={photo.height}
            alt={told}
            className="max-h-[70dvh] w-auto rounded-lg object-contain"
          />
          <p className="text-faded">
            {takenAt[photo.subject]}, {photo.by}, {hour(photo.at)}
            {photo.late && (photo.subject === "audit" ? "; arrived after it was signed" : "; arrived after the wash had begun")}
          </p>
          <div className="flex gap-2">
            <Dialog.Close asChild>
              <Button look="act">Close</Button>
            </Dialog.Close>
            {dropped && !photo.late && (
              <Button onClick={() => void drop().catch((e: unknown) => say(e instanceof Error ? e.message : "The photo stays."))}>
                Take it out
              </Button>
            )}
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
