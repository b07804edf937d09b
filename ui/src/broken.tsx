import { useRouteError } from "react-router";
import { Button, Head, LinkButton } from "./kit/kit";

/** In place of a page that failed. It promises nothing of what was typed on it: only some pages keep that. */
export function Broken() {
  const error = useRouteError();
  return (
    <div role="alert" className="mx-auto grid max-w-xl gap-4 p-6">
      <Head title="This page broke" sub="Load it again. If it breaks again, tell your lead what stands below; the other pages work on." />
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

/** At an address that leads nowhere: a link that was copied wrong, or of what is gone. */
export function NoPage() {
  return (
    <div className="mx-auto grid max-w-xl gap-4 p-6">
      <Head title="No page here" sub="There is no page at this address: it may have been copied wrong, or the page is gone." />
      <div>
        <LinkButton to="/">Yard</LinkButton>
      </div>
    </div>
  );
}
