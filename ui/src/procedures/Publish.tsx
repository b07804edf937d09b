import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { useForm } from "react-hook-form";
import { useNavigate } from "react-router";
import { ask, client } from "../api/client";
import { keys } from "../api/keys";
import { minutes, plural } from "../kit/format";
import { TextField, useRefused } from "../kit/form";
import { say } from "../kit/notice";
import { Button, Loading, Panel, Table, Trouble } from "../kit/kit";
import { Edits } from "./Procedure";
import type { DraftHandle } from "./useDraft";

/** What is published, looked at before it is: what changed, and what that does to the cars in the yard. */
export function Publish({ id, hand, newest, close }: { id: string; hand: DraftHandle; newest: number; close: () => void }) {
  const go = useNavigate();
  const queries = useQueryClient();
  const form = useForm({ defaultValues: { note: "" } });
  const publish = useMutation({
    mutationFn: async ({ note }: { note: string }) => {
      if (hand.saving !== "saved") await hand.save();
      return ask(client.POST("/procedures/{id}/publish", { params: { path: { id } }, body: { revision: hand.revision.current, note } }));
    },
    onSuccess: (v) => {
      hand.forget();
      queries.setQueryData(keys.procedure(id), v);
      void queries.invalidateQueries({ queryKey: keys.plan() });
      say(`Published as version ${v.published?.version ?? 1}.`);
      void go(`/procedures/${id}`);
    },
  });
  const error = useRefused(form, publish.error, { note: "note" });
  return (
    <Panel title="Before it is published" className="mb-4" aside={<Button onClick={close}>Not yet</Button>}>
      <div className="grid gap-4">
        <Changes id={id} hand={hand} newest={newest} />
        <form
          className="flex flex-wrap items-end gap-2"
          onSubmit={(e) => void form.handleSubmit(({ note }) => publish.mutate({ note: note.trim() }))(e)}
        >
          <div className="min-w-0 grow">
            <TextField
              form={form}
              name="note"
              label="What changed, and why"
              maxLength={500}
              autoFocus
              rules={{ validate: (text) => text.trim().length >= 3 || "say it in a few words: it stays with the version" }}
            />
          </div>
          <Button look="act" type="submit" disabled={publish.isPending}>
            {publish.isPending ? "Publishing…" : "Publish it"}
          </Button>
        </form>
        {error !== null && error !== undefined && <Trouble error={error} />}
      </div>
    </Panel>
  );
}

/** The draft as it is saved, against the version in use. */
function Changes({ id, hand, newest }: { id: string; hand: DraftHandle; newest: number }) {
  const { saving, save } = hand;
  useEffect(() => {
    if (saving === "typing") void save(); // what is looked at is what will be published
  }, [saving, save]);
  const ready = saving === "saved";
  const revision = hand.revision.current;
  const edits = useQuery({
    queryKey: keys.difference(id, String(newest), "0", revision),
    queryFn: () => ask(client.GET("/procedures/{id}/difference", { params: { path: { id }, query: { from: newest, to: 0 } } })),
    enabled: ready && newest > 0,
  });
  const effect = useQuery({
    queryKey: keys.effect(id, revision),
    queryFn: () => ask(client.GET("/procedures/{id}/effect", { params: { path: { id } } })),
    enabled: ready,
  });
  if (effect.error ?? edits.error) return <Trouble error={effect.error ?? edits.error} />;
  if (!effect.data || (newest > 0 && !edits.data)) return <Loading what="what changes" />;
  const touched = effect.data.cars.filter((c) => c.before !== c.after || c.dries.length > 0);
  return (
    <div className="grid items-start gap-x-8 gap-y-3 lg:grid-cols-2">
      <div>
        <h3 className="font-bold">{newest > 0 ? `Against version ${newest}` : "The first version"}</h3>
        {newest > 0 && <Edits edits={edits.data ?? []} same={edits.data?.length === 0} />}
      </div>
      <div>
        <h3 className="font-bold">In the yard</h3>
        <p className="mb-2 font-semibold">{effect.data.says}</p>
        {touched.length > 0 && (
          <details>
            <summary className="font-semibold text-tide">{plural(touched.length, "car changes", "cars change")}</summary>
            <Table stacks caption="Cars that change" head={["Car", "Now", "Then", "Mind"]}>
              {touched.map((c) => (
                <tr key={c.plate}>
                  <th scope="row">{c.plate}</th>
                  <td data-head="Now" className="num">
                    {c.before === undefined ? "not allowed" : minutes(c.before)}
                  </td>
                  <td data-head="Then" className="num">
                    {c.after === undefined ? "not allowed" : minutes(c.after)}
                  </td>
                  <td>{c.refused ?? (c.dries.length > 0 && `dries: ${c.dries.join(", ")}`)}</td>
                </tr>
              ))}
            </Table>
          </details>
        )}
      </div>
    </div>
  );
}
