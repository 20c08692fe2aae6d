import { useQuery } from "@tanstack/react-query";

import { fitsQuery } from "../../api/queries";
import { usePractices } from "../../app/Practices";
import type { Address, Change } from "../../app/useAddress";
import { sceneOfOne } from "../../drawing/scene";
import { Sheet } from "../../drawing/Sheet";
import { NoPair } from "./States";
import { Wall } from "./Wall";

interface Props {
  address: Address;
  go: (change: Change) => void;
  onPick: (missing: "lens" | "body") => void;
}

/** One end is given, or none: what is there, and all that it could be joined with. */
export default function OneEnd({ address, go, onPick }: Props) {
  const { start } = usePractices();
  const { lens, body, practice } = address;
  const end = lens !== null ? { lens } : { body: body ?? "" };
  const fits = useQuery({ ...fitsQuery(end, practice), enabled: (lens ?? body) !== null });
  const missing = lens === null ? (body === null ? "pair" : "lens") : "body";
  return (
    <>
      <NoPair
        missing={missing}
        drawing={
          fits.data ? (
            <Sheet subjects={start.subjects} scene={sceneOfOne(fits.data)} units={practice.distances} sentence="" />
          ) : null
        }
        onPick={() => onPick(missing === "body" ? "body" : "lens")}
      />
      {lens !== null && <Wall end={{ lens }} practice={practice} onPick={(id) => go({ body: id, via: null })} />}
      {body !== null && <Wall end={{ body }} practice={practice} onPick={(id) => go({ lens: id, via: null })} />}
    </>
  );
}
