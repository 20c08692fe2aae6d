type Said = string | number | boolean;

/** Where a table is as CSV. */
export function tableAddress(of: "lens" | "body", query: Record<string, Said | readonly string[]>): string {
  const words = new URLSearchParams();
  for (const [key, value] of Object.entries(query))
    for (const one of Array.isArray(value) ? value : [value]) words.append(key, String(one));
  // A machine that writes decimals with a comma reads them so.
  if ((1.5).toLocaleString().includes(",")) words.set("decimal", "comma");
  return `/api/v1/becomes/${of}/table?${words.toString()}`;
}
