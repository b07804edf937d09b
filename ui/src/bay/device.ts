import { useEffect, useRef, useSyncExternalStore } from "react";

/** What this device does, apart from who holds it: whether it speaks, and which key a foot pedal types. */
interface Device {
  voice: boolean;
  pedal: string;
}

const key = "uskel device";
const start: Device = { voice: false, pedal: "" };
let device: Device = read();
const watchers = new Set<() => void>();

function read(): Device {
  try {
    return { ...start, ...(JSON.parse(localStorage.getItem(key) ?? "{}") as Partial<Device>) };
  } catch {
    return start;
  }
}

export function setDevice(change: Partial<Device>) {
  device = { ...device, ...change };
  try {
    localStorage.setItem(key, JSON.stringify(device));
  } catch {
    // it holds until the page is left
  }
  watchers.forEach((w) => w());
}

export const useDevice = () =>
  useSyncExternalStore(
    (w) => {
      watchers.add(w);
      return () => void watchers.delete(w);
    },
    () => device,
  );

/** Says it aloud, if this device is to speak and can. */
export function speak(text: string) {
  if (!device.voice || typeof speechSynthesis === "undefined") return;
  const words = new SpeechSynthesisUtterance(text);
  words.lang = "en";
  speechSynthesis.speak(words);
}

/** Says a text whenever it changes. */
export function useSpoken(text: string) {
  const last = useRef("");
  useEffect(() => {
    if (text && text !== last.current) speak(text);
    last.current = text;
  }, [text]);
}

const inForm = (target: EventTarget | null) => target instanceof HTMLElement && target.closest("input, textarea, select") !== null;
const onControl = (target: EventTarget | null) => target instanceof HTMLElement && target.closest("button, a, summary") !== null;

/** Keys in the bay: the space bar is the big button, letters are the small ones, the pedal's key does the next thing. A control in focus keeps its own Space and Enter. */
export function useKeys(keys: Record<string, (() => void) | undefined>, next: (() => void) | undefined) {
  const latest = useRef({ keys, next });
  useEffect(() => {
    latest.current = { keys, next };
  });
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if (e.repeat || e.ctrlKey || e.metaKey || e.altKey || inForm(e.target)) return;
      if ((e.key === " " || e.key === "Enter") && onControl(e.target)) return;
      const act = device.pedal && e.key === device.pedal ? latest.current.next : latest.current.keys[e.key];
      if (!act) return;
      e.preventDefault();
      act();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
}

/** Keeps the screen on while a wash is open, where the browser allows it. */
export function useAwake() {
  useEffect(() => {
    let lock: WakeLockSentinel | undefined;
    const hold = () =>
      void navigator.wakeLock?.request("screen").then(
        (l) => (lock = l),
        () => undefined,
      );
    hold();
    document.addEventListener("visibilitychange", hold);
    return () => {
      document.removeEventListener("visibilitychange", hold);
      void lock?.release();
    };
  }, []);
}
