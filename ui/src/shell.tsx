import { useQuery } from "@tanstack/react-query";
import {
  BookOpenText,
  CarFront,
  ClipboardCheck,
  CloudUpload,
  Ellipsis,
  FlaskConical,
  GraduationCap,
  Settings2,
  SprayCan,
  Timer,
  Warehouse,
} from "lucide-react";
import { Dialog } from "radix-ui";
import { useEffect, useState, useSyncExternalStore } from "react";
import { NavLink, Outlet, useLocation, useNavigate } from "react-router";
import { ask, client, Problem, type Schemas } from "./api/client";
import { useLive } from "./api/live";
import { useMe } from "./api/shop";
import { photosOf, sendPhotos } from "./photo/queue";
import { useResend } from "./offline/useResend";
import { signedIn, timed, unsent as countUnsent, watch } from "./offline/queue";
import { plural, standIn } from "./kit/format";
import { Button, Loading, Trouble } from "./kit/kit";
import { Notices } from "./kit/notice";
import { useHandedNotice } from "./kit/handed";
import { takeUpdate, updateWaits, watchUpdate } from "./offline/update";
import { useLock } from "./session/lock";
import { SignIn } from "./session/SignIn";
import { keys } from "./api/keys";

/** The sections in the order of the work; the letter after g opens one. */
const sections = [
  { to: "/", label: "Yard", key: "y", Icon: Warehouse },
  { to: "/look-over", label: "Look-over", key: "l", Icon: CarFront },
  { to: "/procedures", label: "Procedures", key: "p", Icon: BookOpenText },
  { to: "/bay", label: "Bay", key: "b", Icon: SprayCan },
  { to: "/audits", label: "Audits", key: "a", Icon: ClipboardCheck },
  { to: "/training", label: "Training", key: "t", Icon: GraduationCap },
  { to: "/times", label: "Times", key: "m", Icon: Timer },
  { to: "/shelf", label: "Shelf", key: "s", Icon: FlaskConical },
  { to: "/settings", label: "Settings", key: "e", Icon: Settings2 },
] as const;

/** What a phone's bar holds: the three or four things that each role does there; the rest is under More. */
const bar: Record<Schemas["Role"], readonly string[]> = {
  owner: ["/", "/look-over", "/bay", "/audits"],
  lead: ["/", "/look-over", "/bay", "/audits"],
  washer: ["/", "/look-over", "/bay", "/training"],
  trainee: ["/", "/bay", "/training"],
  auditor: ["/", "/audits", "/training"],
};

/** The sections that a phone's bar has no room for. */
function More({ onLock }: { onLock: (() => void) | undefined }) {
  const [open, setOpen] = useState(false);
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Trigger className="flex min-h-14 w-full flex-col items-center justify-center text-xs">
        <Ellipsis size={19} aria-hidden />
        More
      </Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 bg-black/40" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed inset-x-0 bottom-0 max-h-dvh overflow-auto rounded-t-2xl border-t border-line bg-paper p-4"
        >
          <Dialog.Title className="mb-3 text-lg font-bold">Sections</Dialog.Title>
          <ul className="grid grid-cols-2 gap-2">
            {sections.map(({ to, label, Icon }) => (
              <li key={to}>
                <NavLink
                  to={to}
                  end={to === "/"}
                  onClick={() => setOpen(false)}
                  className="flex min-h-14 items-center gap-3 rounded-xl border-2 border-line px-3"
                >
                  <Icon size={20} aria-hidden />
                  {label}
                </NavLink>
              </li>
            ))}
          </ul>
          {onLock && (
            <Button className="mt-3 min-h-14 w-full" onClick={onLock}>
              Lock
            </Button>
          )}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

export function Shell() {
  const me = useMe();
  const { pathname } = useLocation();
  const inBay = pathname.startsWith("/bay/");
  useLive(!!me.data);
  useHandedNotice(me.data !== undefined && me.data !== null && me.data.role !== "auditor");
  const person = me.data?.id;
  useEffect(() => {
    if (!person) return;
    signedIn(person);
    photosOf(person);
  }, [person]);
  useResend(sendPhotos);
  const unsent = useSyncExternalStore(watch, countUnsent);
  const lock = useLock(me.data);
  if (me.isPending) return <Loading what="the shop" />;
  if (me.error instanceof Problem && me.error.status !== 401)
    return (
      <div className="mx-auto max-w-xl p-8">
        <Trouble error={me.error} retry={() => void me.refetch()} />
      </div>
    );
  if (!me.data)
    return (
      <>
        <DatabaseAway />
        <SignIn />
      </>
    );
  standIn(me.data.timeZone);
  return (
    <>
      <div className="flex min-h-dvh flex-col md:flex-row">
        <a href="#main" className="sr-only focus:not-sr-only focus:absolute focus:z-10 focus:bg-paper focus:p-3">
          Skip to the page
        </a>
        <nav
          aria-label="Sections"
          className={`no-print shrink-0 border-line bg-paper max-md:order-2 max-md:sticky max-md:bottom-0 max-md:z-20 max-md:min-h-(--bar) max-md:border-t md:sticky md:top-0 md:h-dvh md:w-44 md:border-r ${inBay ? "max-md:hidden" : ""}`}
        >
          <p className="hidden items-center gap-2 px-4 pt-4 pb-3 text-xl font-bold md:flex">
            <img src="/mark.svg" alt="" className="h-7 w-7" />
            Uskel
          </p>
          <ul className="flex max-md:justify-around md:flex-col md:px-2">
            {sections.map(({ to, label, Icon }) => (
              <li key={to} className={bar[me.data?.role ?? "washer"].includes(to) ? "max-md:grow" : "max-md:hidden"}>
                <NavLink
                  to={to}
                  end={to === "/"}
                  className={({ isActive }) =>
                    `flex min-h-hit items-center gap-2.5 rounded-lg px-2.5 py-1 max-md:min-h-14 max-md:flex-col max-md:justify-center max-md:gap-0 max-md:text-xs ${isActive || (to !== "/" && pathname.startsWith(to)) || (to === "/look-over" && pathname.startsWith("/plan")) || (to === "/" && pathname === "/day") ? "bg-tide-wash font-bold text-ink" : "text-ink hover:bg-chalk"}`
                  }
                >
                  <Icon size={19} aria-hidden />
                  {label}
                </NavLink>
              </li>
            ))}
            <li className="grow md:hidden">
              <More onLock={me.data.shared ? lock : undefined} />
            </li>
          </ul>
          <p className="mt-4 hidden px-4 text-sm text-faded md:block">
            {me.data.name}, {me.data.role}
            <br />
            {me.data.shopName}
            <br />
            <kbd>?</kbd> shows the keys
          </p>
          {me.data.shared && (
            <Button className="mx-4 mt-3 max-md:hidden" onClick={lock}>
              Lock
            </Button>
          )}
          {me.data.demo && (
            <p className="mx-4 mt-3 hidden text-sm text-faded md:block">
              An invented shop: its clock is its own, its instruments are simulated.
            </p>
          )}
          {unsent > 0 && (
            <p className="mx-4 mt-2 hidden items-center gap-1.5 text-sm text-amber-ink md:flex">
              <CloudUpload size={15} aria-hidden /> {plural(unsent, "unsent tap")}
            </p>
          )}
        </nav>
        <div className="flex min-w-0 grow flex-col">
          <DatabaseAway />
          {!inBay && <NewVersion />}
          <main id="main" className={`grow ${inBay ? "" : "p-4 md:p-5"}`}>
            <Outlet />
          </main>
        </div>
        <Shortcuts />
      </div>
      <Notices />
    </>
  );
}

/** Says when the server or its database is away; what is typed and tapped is kept meanwhile. */
function DatabaseAway() {
  const ready = useQuery({
    queryKey: keys.ready(),
    queryFn: () => timed(() => ask(client.GET("/ready"))),
    refetchInterval: 4_000,
    retry: false,
  });
  if (!ready.error) return null;
  const there = ready.error instanceof Problem && ready.error.status === 503;
  const full = there && ready.error.message.includes("full");
  const text = full
    ? "The disk of the shop’s database is full: somebody has to make room."
    : there
      ? "The database is away."
      : "The shop's server does not answer.";
  return (
    <p role="status" className="border-b-2 border-rust bg-rust-wash px-4 py-2 font-semibold text-rust">
      {text} Taps and drafts are kept on this device and sent when it is back.
    </p>
  );
}

/** Offers a new version of the application, never in the bay. */
function NewVersion() {
  if (!useSyncExternalStore(watchUpdate, updateWaits)) return null;
  return (
    <p role="status" className="flex flex-wrap items-center gap-3 border-b-2 border-tide bg-tide-wash px-4 py-1.5">
      A new version of Uskel is here.
      <Button className="min-h-hit" onClick={takeUpdate}>
        Use it
      </Button>
    </p>
  );
}

const typing = (target: EventTarget | null) =>
  target instanceof HTMLElement && (target.isContentEditable || ["INPUT", "TEXTAREA", "SELECT"].includes(target.tagName));

function Shortcuts() {
  const [open, setOpen] = useState(false);
  const go = useNavigate();
  useEffect(() => {
    let afterG = 0;
    const onKey = (e: KeyboardEvent) => {
      if (typing(e.target) || e.ctrlKey || e.metaKey || e.altKey) return;
      if (e.key === "?") setOpen(true);
      else if (e.key === "g") afterG = Date.now();
      else if (Date.now() - afterG < 1500) {
        const section = sections.find((s) => s.key === e.key);
        if (section) void go(section.to);
        afterG = 0;
      }
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [go]);
  const rows: [string, string][] = [
    ...sections.map((s): [string, string] => [`g ${s.key}`, s.label]),
    ["arrows", "From zone to zone on the unfolded car"],
    ["0 to 4", "Grade the zone in focus"],
    ["b", "Bonded matter on the zone in focus"],
    ["Space", "The big button, in the bay"],
    ["r p u h", "In the bay: mitt rinsed, pause, undo, help"],
    ["Alt arrows", "Move the block in focus: to another time, person or bay"],
  ];
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 bg-black/40" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-0 right-0 h-dvh w-80 max-w-full overflow-auto border-l border-line bg-paper p-5"
        >
          <Dialog.Title className="mb-3 text-lg font-bold">Keys</Dialog.Title>
          <dl className="grid grid-cols-[5rem_1fr] gap-y-1.5">
            {rows.map(([key, what]) => (
              <div key={key} className="contents">
                <dt>
                  <kbd className="num rounded border border-line px-1.5">{key}</kbd>
                </dt>
                <dd>{what}</dd>
              </div>
            ))}
          </dl>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
