import { Plain } from "../../parts/Plain";

interface Props<T> {
  name: string;
  options: readonly { key: T; name: string }[];
  value: T | null;
  onChange: (value: T | null) => void;
}

/** A few answers of which one holds; tapped again, none does. */
export function Chips<T extends string | number>({ name, options, value, onChange }: Props<T>) {
  return (
    <div className="log-chips" role="group" aria-label={name}>
      <span className="log-chips-name">{name}</span>
      {options.map((option) => (
        <Plain
          key={option.key}
          className="filter-toggle"
          aria-pressed={option.key === value}
          onClick={() => onChange(option.key === value ? null : option.key)}
        >
          {option.name}
        </Plain>
      ))}
    </div>
  );
}
