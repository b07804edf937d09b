// @vitest-environment happy-dom
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { useForm } from "react-hook-form";
import { afterEach, describe, expect, it } from "vitest";
import { Problem } from "../api/client";
import { Entry, NumberField, TextField, useEntry, useRefused } from "./form";
import { Field, Tick, Trouble } from "./kit";
import { MemoryRouter } from "react-router";

afterEach(cleanup);

interface Values {
  plate: string;
  hands: number;
}

function Form({ refused, done }: { refused?: Problem; done?: (v: Values) => void }) {
  const form = useForm<Values>({ defaultValues: { plate: "", hands: 1 } });
  const left = useRefused(form, refused, { plate: "plate" });
  return (
    <form noValidate onSubmit={(e) => void form.handleSubmit((v) => done?.(v))(e)}>
      <TextField form={form} name="plate" label="Plate" rules={{ required: "write it" }} />
      <NumberField form={form} name="hands" label="Pairs of hands" min={1} max={20} />
      {left ? <p>left over: {(left as Problem).message}</p> : null}
      <button type="submit">Save</button>
    </form>
  );
}

describe("a form", () => {
  it("says what is wrong at the field where it is wrong", async () => {
    render(<Form />);
    fireEvent.change(screen.getByLabelText("Pairs of hands"), { target: { value: "21" } });
    fireEvent.click(screen.getByText("Save"));
    expect((await screen.findAllByRole("alert")).map((x) => x.textContent)).toEqual(["Write it", "Use 1 to 20, a whole number"]);
    expect(screen.getByLabelText("Plate").getAttribute("aria-invalid")).toBe("true");
  });

  it("gives whole values once they are right", async () => {
    const got = new Promise<Values>((done) => render(<Form done={done} />));
    fireEvent.change(screen.getByLabelText("Plate"), { target: { value: "QW 1" } });
    fireEvent.change(screen.getByLabelText("Pairs of hands"), { target: { value: "2" } });
    fireEvent.click(screen.getByText("Save"));
    expect(await got).toEqual({ plate: "QW 1", hands: 2 });
  });

  it("says what the server refused at the field it names, and keeps what belongs to none", async () => {
    const { unmount } = render(<Form refused={new Problem(422, "Refused.", [{ location: "plate", message: "it is there already" }])} />);
    expect((await screen.findByRole("alert")).textContent).toBe("It is there already");
    expect(screen.queryByText(/left over/)).toBeNull();
    unmount();
    render(<Form refused={new Problem(503, "The database is away.")} />);
    expect(screen.getByText("left over: The database is away.")).toBeTruthy();
  });
});

describe("the kit", () => {
  it("ticks by its words", () => {
    const seen: boolean[] = [];
    render(<Tick label="Electric" on={false} onChange={(on) => seen.push(on)} />);
    fireEvent.click(screen.getByText("Electric"));
    expect(seen).toEqual([true]);
  });

  it("names a field without the words of its error", () => {
    render(
      <Field label="Plate" error="write it">
        <input />
      </Field>,
    );
    expect(screen.getByLabelText("Plate")).toBeTruthy();
  });

  it("says what somebody else changed without paths", () => {
    const stale = new Problem(409, "Ines saved this at 10:20.", [
      { location: "lookOver.grades.roof", message: "roof, grade: theirs is 4" },
    ]);
    render(
      <MemoryRouter>
        <Trouble error={stale} />
      </MemoryRouter>,
    );
    expect(screen.getByText("Roof, grade: theirs is 4")).toBeTruthy();
    expect(screen.queryByText(/lookOver/)).toBeNull();
  });
});

interface Counted {
  count: number;
  spare?: number;
}

function Counting({ save }: { save: (v: Counted) => Promise<string> }) {
  const of = useEntry<Counted, string>({ start: { count: 3 }, save });
  return (
    <Entry of={of} act="Save">
      <NumberField form={of.form} name="count" label="Count" min={1} max={9} />
      <NumberField form={of.form} name="spare" label="Spare" min={0} max={9} optional />
    </Entry>
  );
}

function Naming({ save }: { save: (v: { name: string; note: string }) => Promise<string> }) {
  const of = useEntry<{ name: string; note: string }, string>({
    start: { name: "", note: "" },
    save,
    onSaved: (_answer, clear) => clear(),
  });
  return (
    <Entry of={of} act="Add">
      <TextField form={of.form} name="name" label="Name" />
      <TextField form={of.form} name="note" label="Note" />
      {of.saving.data && <p role="status">{of.saving.data}</p>}
    </Entry>
  );
}

const shown = (save: (v: Counted) => Promise<string>) =>
  render(
    <QueryClientProvider client={new QueryClient()}>
      <MemoryRouter>
        <Counting save={save} />
      </MemoryRouter>
    </QueryClientProvider>,
  );

describe("an entry", () => {
  it("saves numbers as numbers, and what is left empty not at all", async () => {
    const got = new Promise<Counted>((done) => shown((v) => (done(v), Promise.resolve("ok"))));
    fireEvent.change(screen.getByLabelText("Count"), { target: { value: "" } });
    fireEvent.click(screen.getByText("Save"));
    expect((await screen.findByRole("alert")).textContent).toBe("Use 1 to 9, a whole number");
    fireEvent.change(screen.getByLabelText("Count"), { target: { value: "4" } });
    fireEvent.click(screen.getByText("Save"));
    expect(await got).toEqual({ count: 4 });
  });

  it("says a refusal at its field each time it comes, and any other below", async () => {
    const answers = [
      new Problem(422, "No.", [{ location: "count", message: "too many for the shelf" }]),
      new Problem(422, "No.", [{ location: "count", message: "too many for the shelf" }]),
      new Problem(503, "The database is away."),
    ];
    shown(() => Promise.reject(answers.shift() ?? new Error("asked too often")));
    for (let n = 0; n < 2; n++) {
      fireEvent.click(screen.getByText("Save"));
      expect((await screen.findByRole("alert")).textContent).toBe("Too many for the shelf");
      fireEvent.change(screen.getByLabelText("Count"), { target: { value: String(5 + n) } });
    }
    fireEvent.click(screen.getByText("Save"));
    expect(await screen.findByText("The database is away.")).toBeTruthy();
  });

  it("keeps what is typed while an answer is slow, and tells the answer of what was sent", async () => {
    let answer: (text: string) => void = () => undefined;
    render(
      <QueryClientProvider client={new QueryClient()}>
        <MemoryRouter>
          <Naming save={(v) => new Promise((done) => (answer = () => done(`a code for ${v.name}`)))} />
        </MemoryRouter>
      </QueryClientProvider>,
    );
    const type = (label: string, value: string) => fireEvent.change(screen.getByLabelText(label), { target: { value } });
    type("Name", "Ada");
    type("Note", "early shift");
    fireEvent.click(screen.getByText("Add"));
    await screen.findByText("Saving…");
    type("Name", "Bo"); // the next one, while the first is on its way
    answer("");
    expect(await screen.findByText("a code for Ada")).toBeTruthy();
    expect(screen.getByLabelText<HTMLInputElement>("Name").value).toBe("Bo");
    expect(screen.getByLabelText<HTMLInputElement>("Note").value).toBe("");
  });
});
