import "./DistanceRange.css";

import { useQuery } from "@tanstack/react-query";

import { distanceQuery } from "../api/queries";
import type { Chosen } from "../app/practice";
import { GradeMark } from "../drawing/GradeMark";
import { mm } from "./format";

interface Props {
  lens: string;
  body: string;
  practice: Chosen;
}

/** A flange focal distance that nobody knows: what the pair may come to, what decides, and how to find out. */
export function DistanceRange({ lens, body, practice }: Props) {
  const found = useQuery(distanceQuery({ lens, body, practice }));
  if (!found.data) return null;
  const { sentence, decides, may_be: mayBe, find_out: findOut } = found.data;
  return (
    <section className="distance-range" data-state="distance-not-known" data-systems={mayBe.length}>
      <h2>One distance is not known</h2>
      <p>{sentence}</p>
      {mayBe.length > 0 && (
        <ul className="may-be">
          {mayBe.map((one) => (
            <li key={one.mount} data-system={one.mount} data-grade={one.grade ?? "nothing"}>
              <GradeMark grade={one.grade ?? "none"} size={22} />
              <span className="may-be-mm">{mm(one.register_mm)}</span>
              <span>
                {one.text}
                <span className="route-gives">{` ${one.why}`}</span>
              </span>
            </li>
          ))}
        </ul>
      )}
      <p>{decides}</p>
      <h3>How to find out</h3>
      <ul className="find-out bulleted">
        {findOut.map((how) => (
          <li key={how}>{how}</li>
        ))}
      </ul>
    </section>
  );
}
