import type { Frame } from "../scale";
import type { AdapterAt } from "../scene";
import { mm } from "../../parts/format";
import { both, element, line, outline, type Point } from "../shapes";

interface Props {
  frame: Frame;
  adapter: AdapterAt;
  hatch: string;
}

/** One adapter: a rear tongue, a waist where it is long enough, its glass, its filter, its iris. */
export function AdapterCut({ frame, adapter, hatch }: Props) {
  const { id, piece, rear, front, outer, bore, glass, filter } = adapter;
  const length = front - rear;
  const lip = Math.min(3, outer - bore - 1);
  const profile: Point[] =
    length > 13
      ? [
          [rear, bore],
          [rear, outer - 1],
          [rear + 3.5, outer - 1],
          [rear + 4.5, outer - 3.4],
          [front - 5.5, outer - 3.4],
          [front - 4.5, outer],
          [front, outer],
          [front, bore],
        ]
      : [
          [rear, bore],
          [rear, outer],
          [front, outer],
          [front, bore],
        ];
  const tongue: Point[] = [
    [rear, bore],
    [rear, bore + lip],
    [rear - 3.2, bore + lip],
    [rear - 3.2, bore],
  ];
  const reducing = piece.optics === "reducer";
  return (
    <g
      className={`cut adapter ${piece.owned > 0 ? "owned" : "to-buy"}`}
      data-link={id}
      data-rear={rear}
      data-front={front}
    >
      <title>{`${piece.name}, ${mm(length)} mm long${piece.owned > 0 ? "" : ", to be bought"}`}</title>
      {[...both(profile), ...both(tongue)].map((points, index) => (
        <path key={index} d={outline(frame, points)} fill={hatch} />
      ))}
      {glass !== null && (
        <g className="glass">
          <path d={element(frame, glass, bore - 1, 3.2, reducing ? 3.4 : -2.2, reducing ? 1.2 : -1.6)} />
          <path d={element(frame, Math.max(glass - 6, rear + 3), bore - 1.6, 2.2, -1.4, 2.2)} />
        </g>
      )}
      {filter !== null && (
        <g className="glass filter">
          <path d={element(frame, filter, Math.min(bore + 1.5, outer - 0.5), 2, 0, 0)} />
        </g>
      )}
      {piece.helicoid_mm > 0 && <path className="helix" d={helix(frame, rear, front, outer)} />}
      {piece.iris && (
        <path
          className="iris"
          d={[1, -1]
            .map((side) =>
              line(frame, [
                [(front + rear) / 2, side * bore],
                [(front + rear) / 2, side * bore * 0.5],
              ]),
            )
            .join("")}
        />
      )}
    </g>
  );
}

/** The thread of a helicoid, slanting across the wall. */
const helix = (frame: Frame, rear: number, front: number, outer: number) => {
  const turns = Math.max(3, Math.floor((front - rear) / 3));
  const step = (front - rear) / (turns + 1);
  return Array.from({ length: turns }, (_, index) => rear + step * (index + 0.5))
    .flatMap((z) =>
      [1, -1].map((side) =>
        line(frame, [
          [z, side * (outer - 3.2)],
          [z + step * 0.7, side * (outer + 0.2)],
        ]),
      ),
    )
    .join("");
};
