import "./bench.css";

import type { ReactNode } from "react";

const W = 132;
const H = 84;

/** Where each answer is soft, over the picture: from 0 (left, top) to 1. */
const SOFT: Record<string, (x: number, y: number) => boolean> = {
  all_soft: () => true,
  turned: () => false,
  none_sharp: () => true,
  middle_still_soft: (x) => Math.abs(x - 0.5) < 0.24,
  edges_soft: (x) => Math.abs(x - 0.5) > 0.27,
  middle_soft: (x) => Math.abs(x - 0.5) < 0.24,
  side_soft: (x) => x > 0.62,
  one_sharp: () => false,
  middle_sharp: () => false,
  edge_sharp: (x) => Math.abs(x - 0.5) < 0.24,
  edge_still_soft: (x) => Math.abs(x - 0.5) > 0.27,
  side_sharp: (x) => x < 0.4,
  side_still_soft: (x) => x > 0.62,
  side_moves: (x) => x < 0.38,
  side_stays: (x) => x > 0.62,
  goes_with_lens: () => false,
  goes_with_ring: () => false,
  stays_with_body: (x) => x > 0.62,
};

/** Where the frame is focused. */
const FOCUS: Record<string, readonly [number, number]> = {
  edge_sharp: [0.9, 0.14],
  edge_still_soft: [0.9, 0.14],
  side_sharp: [0.86, 0.5],
  side_still_soft: [0.86, 0.5],
};

/** A flat wall of small crosses as a frame shows it: sharp here, soft there. */
export function WallPicture({ saw, children }: { saw: string; children?: ReactNode }) {
  const soft = SOFT[saw] ?? (() => false);
  const [fx, fy] = FOCUS[saw] ?? [0.5, 0.5];
  const crosses = Array.from({ length: 9 * 5 }, (_, index) => {
    const [x, y] = [(index % 9) / 8, Math.floor(index / 9) / 4];
    return { x, y, px: 10 + x * (W - 20), py: 9 + y * (H - 18) };
  });
  return (
    <svg className="wall-picture" width={W} height={H} viewBox={`0 0 ${W} ${H}`} aria-hidden="true">
      <rect className="wall-paper" x="0.5" y="0.5" width={W - 1} height={H - 1} />
      {crosses.map(({ x, y, px, py }) => (
        <path
          key={`${x} ${y}`}
          className={soft(x, y) ? "wall-soft" : "wall-sharp"}
          d={`M${px - 3} ${py}h6M${px} ${py - 3}v6`}
        />
      ))}
      <rect className="wall-focus" x={10 + fx * (W - 20) - 9} y={9 + fy * (H - 18) - 9} width="18" height="18" />
      {children}
    </svg>
  );
}
