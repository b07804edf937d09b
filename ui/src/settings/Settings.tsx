import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { type Schemas, ask, client } from "../api/client";
import { become, useMe } from "../api/shop";
import { Button, Choice, Field, Head, inputLook, Loading, Panel, Trouble } from "../kit/kit";

export function Settings() {
  const settings = useQuery({ queryKey: ["settings"], queryFn: () => ask(client.GET("/settings")) });
  const me = useMe().data;
  const queries = useQueryClient();
  const leave = useMutation({
    mutationFn: () => ask(client.DELETE("/session")),
    onSuccess: () => become(queries, null),
  });
  if (settings.isPending) return <Loading what="the settings" />;
  if (!settings.data) return <Trouble error={settings.error} retry={() => void settings.refetch()} />;
  return (
    <>
      <Head title="Settings" />
      <div className="grid max-w-3xl gap-4">
        <ShopForm key={settings.data.version} view={settings.data} editable={me?.role === "lead"} />
        <Panel title="You">
          <p className="mb-3">
            {me?.name}, {me?.role}
          </p>
          <Button onClick={() => leave.mutate()} disabled={leave.isPending}>
            Sign out
          </Button>
          {leave.error && <Trouble error={leave.error} />}
        </Panel>
      </div>
    </>
  );
}

function ShopForm({ view, editable }: { view: Schemas["SettingsView"]; editable: boolean }) {
  const [shop, setShop] = useState(view.settings);
  const queries = useQueryClient();
  const save = useMutation({
    mutationFn: () => ask(client.PUT("/settings", { body: { version: view.version, settings: shop } })),
    onSuccess: (next) => {
      queries.setQueryData(["settings"], next);
      void queries.invalidateQueries({ queryKey: ["me"] });
    },
  });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate();
  };
  return (
    <Panel title="The shop">
      <form onSubmit={submit} className="grid gap-3">
        <fieldset disabled={!editable} className="grid gap-3">
          <Field label="Name">
            <input
              className={inputLook}
              value={shop.shopName}
              maxLength={80}
              required
              onChange={(e) => setShop({ ...shop, shopName: e.target.value })}
            />
          </Field>
          <Choice
            label="Units"
            value={shop.units}
            onChange={(units) => setShop({ ...shop, units })}
            options={[
              { value: "metric", label: "Metric" },
              { value: "us", label: "US" },
            ]}
          />
          <Field label="Currency sign">
            <input
              className={inputLook}
              value={shop.currency}
              maxLength={8}
              required
              onChange={(e) => setShop({ ...shop, currency: e.target.value })}
            />
          </Field>
        </fieldset>
        {save.error && <Trouble error={save.error} />}
        {editable ? (
          <Button look="act" type="submit" disabled={save.isPending} className="justify-self-start">
            Save
          </Button>
        ) : (
          <p className="text-faded">The lead changes these.</p>
        )}
      </form>
    </Panel>
  );
}
