import { type ReactNode, useId } from "react";

interface Props {
  label: string;
  className: string;
  /** What is wrong with what stands in the field; nothing where it is empty. */
  wrong?: string;
  children: (id: string, described: string | undefined) => ReactNode;
}

/** A field with its label above, and below it what is wrong. */
export function Labelled({ label, className, wrong = "", children }: Props) {
  const id = useId();
  const told = `${id}-wrong`;
  return (
    <div className={className}>
      <label htmlFor={id}>{label}</label>
      {children(id, wrong ? told : undefined)}
      {wrong && (
        <p id={told} role="alert">
          {wrong}
        </p>
      )}
    </div>
  );
}
