import { type ReactNode, useEffect, useId, useRef } from "react";

interface Props {
  label: string;
  value: string;
  onChange: (value: string) => void;
  placeholder?: string;
  /** What the answer is read as, or what is wrong with it. */
  hint?: ReactNode;
  wrong?: string | undefined;
  decimal?: boolean;
  known?: readonly string[];
  /** The cursor goes here as soon as it is asked. */
  first?: boolean;
}

/** One thing that is asked, with what is wrong beside it. */
export function Asked({ label, value, onChange, placeholder, hint, wrong, decimal, known, first = false }: Props) {
  const id = useId();
  const input = useRef<HTMLInputElement>(null);
  useEffect(() => {
    if (first) input.current?.focus();
  }, [first]);
  return (
    <div className="asked">
      <label htmlFor={id}>{label}</label>
      <input
        ref={input}
        id={id}
        value={value}
        maxLength={120}
        placeholder={placeholder}
        inputMode={decimal ? "decimal" : "text"}
        aria-invalid={wrong !== undefined}
        aria-describedby={`${id}-said`}
        list={known ? `${id}-known` : undefined}
        autoComplete="off"
        onChange={(event) => onChange(event.target.value)}
      />
      {known && (
        <datalist id={`${id}-known`}>
          {known.map((name) => (
            <option key={name} value={name} />
          ))}
        </datalist>
      )}
      <span id={`${id}-said`} className={wrong ? "asked-wrong" : "route-gives"} role={wrong ? "alert" : undefined}>
        {wrong ?? hint}
      </span>
    </div>
  );
}
