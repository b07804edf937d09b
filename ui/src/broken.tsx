import { useRouteError } from "react-router";
import { Button, Head, LinkButton } from "./kit/kit";

/** In place of a page that failed: what was typed and tapped is kept apart from it, and a reload goes on. */
export function Broken() {
  const error = useRouteError();
  return (
    <div role="alert" className="mx-auto grid max-w-xl gap-4 p-6">
      <Head
        title="This page broke"
        sub="What you typed and tapped before is kept. Load it again; if it breaks again, tell your lead what stands below."
      />
      <p className="num text-sm break-words text-faded">{error instanceof Error ? error.message : String(error)}</p>
      <div className="flex gap-3">
        <Button look="act" className="min-h-hit" onClick={() => window.location.reload()}>
          Load it again
        </Button>
        <LinkButton to="/">Yard</LinkButton>
      </div>
    </div>
  );
}
