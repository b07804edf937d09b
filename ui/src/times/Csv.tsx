/** Where a table of the times is to be had. */
export const csv = (table: string, days: number, of?: string) =>
  `/api/times/export?table=${table}&days=${days}${of ? `&of=${encodeURIComponent(of)}` : ""}`;

export const Csv = ({ href, children = "Table (CSV)" }: { href: string; children?: string }) => (
  <a
    href={href}
    download
    className="inline-flex min-h-hit min-w-hit items-center text-sm font-semibold text-tide underline-offset-4 hover:underline"
  >
    {children}
  </a>
);
