import { Asked } from "./Asked";
import { FlangeDrawing } from "./FlangeDrawing";
import { lengthMm } from "../../parts/lengths";
import { lengthOrNot, mm } from "../../parts/format";
import { Plain } from "../../parts/Plain";

export interface KnownMount {
  id: string;
  name: string;
  aliases: string[];
  register_mm: number | null;
}

export interface MountText {
  name: string;
  flange: string;
  /** Whoever is asked does not know how far its mount face is from the sensor. */
  unknown: boolean;
}

export const NO_MOUNT: MountText = { name: "", flange: "", unknown: false };

/** The known mount that is meant by a name or a short name. */
export function knownAs(known: readonly KnownMount[], name: string): KnownMount | undefined {
  const asked = name.trim().toLowerCase();
  return known.find(({ id, name: called, aliases }) =>
    [id, called, ...aliases].some((one) => one.toLowerCase() === asked),
  );
}

/** What is missing of a mount. */
export function missingOf(known: readonly KnownMount[], { name, flange, unknown }: MountText): Record<string, string> {
  if (!name.trim()) return { mount: "Which mount? As it is called on the box, or by its maker." };
  if (unknown || knownAs(known, name)) return {};
  const length = lengthMm(flange);
  if (length === null || length < 0.1 || length > 500)
    return { flange_mm: "How far is the mount face from the sensor: “44.2”, “1.74 in”." };
  return {};
}

export const givenOf = ({ name, flange, unknown }: MountText) => ({
  mount: name.trim(),
  flange_mm: unknown ? null : lengthMm(flange),
  flange_unknown: unknown,
});

interface Props {
  known: readonly KnownMount[];
  value: MountText;
  onChange: (value: MountText) => void;
  wrong: Record<string, string>;
  of: "body" | "lens";
}

/** The way out for who cannot know it. */
export function DoNotKnow({ pressed, onPress }: { pressed: boolean; onPress: (pressed: boolean) => void }) {
  return (
    <Plain className="do-not-know" aria-pressed={pressed} onClick={() => onPress(!pressed)}>
      I do not know
    </Plain>
  );
}

/** A mount by its name; its flange focal distance where the name is a new one, with the dimension drawn. */
export function MountAsked({ known, value, onChange, wrong, of }: Props) {
  const found = knownAs(known, value.name);
  const length = lengthMm(value.flange);
  return (
    <>
      <Asked
        label={of === "body" ? "Its lens mount" : "The lens’s mount"}
        value={value.name}
        onChange={(name) => onChange({ ...value, name })}
        placeholder="the name of the system"
        known={known.map(({ name }) => name)}
        wrong={wrong.mount}
        hint={found && `flange focal distance ${lengthOrNot(found.register_mm)}`}
      />
      {!found && value.name.trim() !== "" && (
        <div className="asked-drawn">
          <FlangeDrawing />
          <Asked
            label="Flange focal distance"
            value={value.flange}
            onChange={(flange) => onChange({ ...value, flange, unknown: false })}
            placeholder={value.unknown ? "not known" : "mm, or “1.74 in”"}
            decimal
            wrong={wrong.flange_mm}
            hint={
              value.unknown
                ? "Then the answer is a range, and how to find it out."
                : length === null
                  ? "From the mount face to the sensor: in the manual, or by caliper from the film-plane mark."
                  : `${mm(length)} mm`
            }
          />
          <DoNotKnow pressed={value.unknown} onPress={(unknown) => onChange({ ...value, flange: "", unknown })} />
        </div>
      )}
    </>
  );
}
