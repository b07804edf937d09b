import "./wasm_exec.gen.js";
import core from "./core.gen.wasm?url";

/** The core of the shop's server, on this device: answers calls in the order they come. */
declare const self: {
  uskelCore?: (name: string, json: string) => { out?: string; error?: string };
  uskelReady?: () => void;
  onmessage: (e: MessageEvent<Call>) => void;
  postMessage: (answer: Answer) => void;
};
declare const Go: new () => { importObject: WebAssembly.Imports; run: (instance: WebAssembly.Instance) => Promise<void> };

export interface Call {
  id: number;
  name: string;
  json: string;
}
export type Answer = { id: number; out: string } | { id: number; error: string } | { failed: string };

async function start() {
  const go = new Go();
  const { instance } = await WebAssembly.instantiateStreaming(fetch(core), go.importObject);
  await new Promise<void>((ready) => {
    self.uskelReady = ready;
    void go.run(instance);
  });
}

const started = start();
started.catch((e: unknown) => self.postMessage({ failed: String(e) }));

self.onmessage = async ({ data }) => {
  await started;
  const { out, error } = self.uskelCore?.(data.name, data.json) ?? {};
  self.postMessage(out === undefined ? { id: data.id, error: error ?? "no answer" } : { id: data.id, out });
};
