import "./Hatch.css";

/** Fine lines over what is not there, or goes on without end; a drawing fills with it by its name. */
export function Hatch({ id }: { id: string }) {
  return (
    <defs>
      <pattern id={id} width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <path className="hatch-line" d="M0 0V7" />
      </pattern>
    </defs>
  );
}
