import "./bench.css";

import type { ReactNode } from "react";

import { useWidth } from "../../parts/useWidth";

interface Props {
  className: string;
  label: string;
  height: (width: number) => number;
  children: (width: number, height: number) => ReactNode;
}

/** A drawing as wide as the room it has. */
export function Fitted({ className, label, height, children }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const high = height(width);
  return (
    <div className={className} ref={ref}>
      {width > 0 && (
        <svg
          className="sheet-svg"
          width={width}
          height={high}
          viewBox={`0 0 ${width} ${high}`}
          role="img"
          aria-label={label}
        >
          {children(width, high)}
        </svg>
      )}
    </div>
  );
}
