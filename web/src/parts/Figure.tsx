import "./Figure.css";

import { createContext, type ReactNode, useContext } from "react";
import { Plain } from "./Plain";

/** Opens the working of a quantity. */
export const WorkingContext = createContext<(quantity: string) => void>(() => undefined);

interface Props {
  /** The quantity's name in the working. */
  of: string;
  label: ReactNode;
  value: ReactNode;
  large?: boolean;
}

/** A number that unfolds into its working. */
export function Figure({ of, label, value, large = false }: Props) {
  const open = useContext(WorkingContext);
  return (
    <Plain
      className={`figure ${large ? "large" : ""}`}
      data-quantity={of}
      aria-haspopup="dialog"
      onClick={() => open(of)}
    >
      <span className="figure-value">{value}</span>
      <span className="figure-label">{label}</span>
    </Plain>
  );
}
