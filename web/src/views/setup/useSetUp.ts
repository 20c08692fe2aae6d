import { useQuery } from "@tanstack/react-query";

import { itemQuery, matchQuery, setUpQuery } from "../../api/queries";
import { useAddress } from "../../app/useAddress";
import { useChange } from "../../app/useChange";

const textOf = (value: unknown) => (typeof value === "string" ? value : "");
const listOf = (value: unknown) => (Array.isArray(value) ? value.filter((one) => typeof one === "string") : []);

/** The rig that is set up: a saved one by its id, or the pair in the address by its chain or the best. */
export function useSetUp(id: string | undefined) {
  const [address] = useAddress();
  const [words, change] = useChange();
  const { practice } = address;
  const saved = useQuery({ ...itemQuery("rigs", id ?? ""), enabled: id !== undefined });
  const rig = saved.data?.item;
  const [lens, body] =
    id === undefined ? [address.lens ?? "", address.body ?? ""] : [textOf(rig?.lens), textOf(rig?.body)];
  const both = lens !== "" && body !== "";
  const asked = id === undefined ? address.via : rig ? listOf(rig.adapters).join(",") : null;
  const best = useQuery({ ...matchQuery({ lens, body, practice }), enabled: both && asked === null });
  const via = asked ?? best.data?.routes[0]?.adapters.join(",");
  const said = words.get("with");
  const accessories = said === null ? listOf(rig?.accessories) : said.split(",").filter(Boolean);
  const [held, second] = [words.get("held"), words.get("second")];
  const query = {
    practice,
    lens,
    body,
    via: via ?? "",
    accessories: accessories.join(","),
    ...(held === null ? {} : { held_by: held }),
    ...(second === null ? {} : { second_by: second }),
  };
  const enabled = both && via !== undefined;
  const setUp = useQuery({ ...setUpQuery(query), enabled });
  const match = useQuery({ ...matchQuery({ lens, body, via: via ?? "", practice }), enabled });
  return {
    address,
    change,
    name: textOf(rig?.name),
    lens,
    body,
    both,
    accessories,
    setUp,
    match,
    nothingFits: both && asked === null && best.isSuccess && via === undefined ? best.data.sentence : null,
    error: saved.error ?? best.error ?? setUp.error ?? match.error,
    settled: enabled && setUp.isSuccess && !setUp.isPlaceholderData && match.isSuccess,
    again: () => {
      void saved.refetch();
      void setUp.refetch();
    },
  };
}
