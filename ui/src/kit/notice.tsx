import { Check, Undo2, X } from "lucide-react";
import { Toast } from "radix-ui";
import { useSyncExternalStore } from "react";

/** What was just done, said once at the edge of the screen; most of it can be taken back for a while. */
export type Notice = { id: number; text: string; undo?: (() => void) | undefined };

declare module "@tanstack/react-query" {
  interface Register {
    /** What a change says when it is done. */
    mutationMeta: { said?: string };
  }
}

let notices: readonly Notice[] = [];
let last = 0;
const watchers = new Set<() => void>();

function change(next: readonly Notice[]) {
  notices = next;
  watchers.forEach((w) => w());
}

/** Says that something was done. With undo it stays long enough to be taken back without haste. */
export function say(text: string, undo?: () => void) {
  last += 1;
  change([...notices.slice(-1), { id: last, text, undo }]); // two at most: more would hide the screen
}

const watch = (on: () => void) => {
  watchers.add(on);
  return () => watchers.delete(on);
};

/** How long a notice stays, ms: long enough to be read twice, longer where it can be taken back. */
const stays = 6_000;
const staysWithUndo = 20_000;

/** At the edge, above a phone's bar, and never wider than the screen. */
const place = "fixed right-4 bottom-[calc(var(--bar)+1rem)] z-50 grid w-96 max-w-[calc(100vw-2rem)] gap-2 outline-none";

/** Where notices are shown: over the page, above a phone's bar. */
export function Notices() {
  const shown = useSyncExternalStore(watch, () => notices);
  return (
    <div className="no-print">
      <Toast.Provider label="What was done">
        {shown.map((n) => (
          <Toast.Root
            key={n.id}
            duration={n.undo ? staysWithUndo : stays}
            onOpenChange={(open) => !open && change(notices.filter((x) => x.id !== n.id))}
            className="flex items-center gap-2 rounded-xl bg-ink py-1 pr-1 pl-4 text-paper shadow-lg"
          >
            <Check size={18} className="shrink-0" aria-hidden />
            <Toast.Title className="grow py-2 font-semibold">{n.text}</Toast.Title>
            {n.undo && (
              <Toast.Action
                altText="Undo"
                onClick={n.undo}
                className="flex min-h-hit shrink-0 items-center gap-1.5 rounded-lg px-3 font-semibold underline underline-offset-4"
              >
                <Undo2 size={17} aria-hidden /> Undo
              </Toast.Action>
            )}
            <Toast.Close aria-label="Close" className="grid size-11 shrink-0 place-items-center rounded-lg">
              <X size={18} aria-hidden />
            </Toast.Close>
          </Toast.Root>
        ))}
        <Toast.Viewport className={place} />
      </Toast.Provider>
    </div>
  );
}
