import { addressOf } from "../../../api/client";

/** Where a table is as CSV. */
export const tableAddress = (of: "lens" | "body", query: object) =>
  addressOf(`/api/v1/becomes/${of}/table`, {
    ...query,
    // A machine that writes decimals with a comma reads them so.
    ...((1.5).toLocaleString().includes(",") ? { decimal: "comma" } : {}),
  });
