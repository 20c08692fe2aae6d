import type { SetUp } from "../../api/client";
import type { Chosen } from "../../app/practice";
import { Plain } from "../../parts/Plain";

interface Props {
  report: SetUp;
  practice: Chosen;
  onChange: (words: Record<string, string>) => void;
}

const USES = { still: "stills", film: "film" } as const;
const MENUS = { full: "full menus", short: "short menus" } as const;

/** Which of the body's menus the card is written for. */
export function MenusAt({ report, practice, onChange }: Props) {
  const group = (key: "use" | "menu", label: string, options: Record<string, string>) => (
    <span className="toggles" role="group" aria-label={label}>
      {Object.entries(options).map(([value, name]) => (
        <Plain
          key={value}
          className="filter-toggle"
          aria-pressed={practice[key] === value}
          onClick={() => onChange({ [key]: value })}
        >
          {name}
        </Plain>
      ))}
    </span>
  );
  return (
    <div className="menus-at">
      {report.uses.length > 1 && group("use", "Stills or film", USES)}
      {report.menus_apart && group("menu", "Menus of the body", MENUS)}
    </div>
  );
}
