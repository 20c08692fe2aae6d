interface Props {
  done: number;
  /** How much there is; nothing where that is not known yet. */
  of: number | undefined;
  /** What is going on. */
  label: string;
  /** How far it is in words; in per cent where nothing is said. */
  says?: string;
}

/** How far something is that takes a while. */
export function Progress({ done, of, label, says }: Props) {
  const share = of ? done / of : 0;
  return (
    <span className="progress">
      <progress value={share} aria-label={label} />
      <span>{says ?? `${Math.round(100 * share)} %`}</span>
    </span>
  );
}
