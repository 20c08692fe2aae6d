/** A rig by ids: adapters run from the lens to the body. One form in addresses and questions, and its one reader. */
export interface Rig {
  lens: string;
  body: string;
  adapters: readonly string[];
}

/** A chain as an address has it. */
export const viaOf = (adapters: readonly string[] | undefined): string => (adapters ?? []).join(",");

/** The ids of a chain in an address. */
export const adaptersIn = (via: string): string[] =>
  via
    .split(",")
    .map((one) => one.trim())
    .filter(Boolean);

/** A rig as it is asked about. */
export const askedOf = ({ lens, body, adapters }: Rig) => ({ lens, body, via: viaOf(adapters) });

/** Where a rig is looked at. */
export const rigPath = ({ lens, body, adapters }: Rig, path = "/"): string =>
  // Ids need no escaping.
  `${path}?lens=${lens}&body=${body}&via=${viaOf(adapters)}`;
