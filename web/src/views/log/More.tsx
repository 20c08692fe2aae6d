import Button from "antd/es/button";
import Input from "antd/es/input/Input";
import Select from "antd/es/select";

import type { InHand } from "../../api/logQueries";
import { Chips } from "./Chips";
import { numberIn, type Settings } from "./settings";

interface Props {
  hand: InHand;
  settings: Settings;
  onChange: (changed: Partial<Settings>) => void;
  onStop: (stop: number) => void;
}

const plainly = (values: readonly string[]) => values.map((value) => ({ key: value, name: value }));

/** What is noted now and then: only what this rig has is asked for. */
export function More({ hand, settings, onChange, onStop }: Props) {
  const text = (key: "distance" | "shift" | "tilt" | "told" | "shot" | "note", name: string, hint: string) => (
    <label className="log-field">
      <span>{name}</span>
      <Input
        value={settings[key]}
        placeholder={hint}
        inputMode={key === "shot" || key === "note" ? "text" : "decimal"}
        maxLength={key === "note" ? 2000 : 120}
        onChange={(event) => onChange({ [key]: event.target.value })}
      />
    </label>
  );
  const told = hand.tells.find(({ mark_mm }) => mark_mm === settings.mark) ?? hand.tells[0];
  const other = numberIn(settings.otherStop);
  return (
    <div className="log-more">
      <form
        className="log-other-stop"
        onSubmit={(event) => {
          event.preventDefault();
          if (other !== null) onStop(other);
        }}
      >
        <label className="log-field">
          <span>Another stop, f/</span>
          <Input
            value={settings.otherStop}
            placeholder="between the marks"
            inputMode="decimal"
            maxLength={8}
            onChange={(event) => onChange({ otherStop: event.target.value })}
          />
        </label>
        <Button htmlType="submit" disabled={other === null}>
          Log it
        </Button>
      </form>
      {text("shot", "Shot", "what it is of")}
      {text("distance", "Distance, m", "as set on the ring")}
      {hand.filters.length > 0 && (
        <div className="log-field">
          <span>Filter</span>
          <Select
            aria-label="Filter"
            allowClear
            placeholder="none"
            value={settings.filter}
            options={hand.filters.map((value) => ({ value, label: value }))}
            onChange={(filter: string | undefined) => onChange({ filter: filter ?? null })}
          />
        </div>
      )}
      {hand.shifts_mm > 0 && text("shift", `Shift, mm`, `across, up; at most ${hand.shifts_mm}`)}
      {hand.tilts_deg > 0 && text("tilt", "Tilt, °", `at most ${hand.tilts_deg}`)}
      {text("told", "Focal length told to the body, mm", told?.told_mm ? `${told.told_mm} unless noted` : "not asked")}
      {hand.modes.length > 0 && (
        <Chips
          name="Mode"
          options={plainly(hand.modes)}
          value={settings.mode}
          onChange={(mode) => onChange({ mode })}
        />
      )}
      {hand.seats > 1 && (
        <Chips
          name="Seat"
          options={Array.from({ length: hand.seats }, (_, at) => ({ key: at + 1, name: `${at + 1}` }))}
          value={settings.seat}
          onChange={(seat) => onChange({ seat })}
        />
      )}
      {hand.travel_steps.length > 0 && (
        <Chips
          name="Stabiliser"
          options={[...hand.travel_steps, 0].map((step) => ({
            key: step,
            name: step === 0 ? "off" : `${Math.round(step * 100)} %`,
          }))}
          value={settings.travel}
          onChange={(travel) => onChange({ travel })}
        />
      )}
      {hand.holders.length > 0 && (
        <Chips
          name="Aperture set on"
          options={plainly(hand.holders)}
          value={settings.heldOn}
          onChange={(heldOn) => onChange({ heldOn })}
        />
      )}
      <Chips
        name="Series"
        options={[
          { key: "stitched", name: "stitched" },
          { key: "bracketed", name: "bracketed" },
        ]}
        value={settings.series?.kind ?? null}
        onChange={(kind) =>
          onChange({ series: kind === null ? null : { id: crypto.randomUUID(), kind: kind as "stitched" } })
        }
      />
      <Chips
        name="Frames a tap"
        options={[1, 3, 5, 7].map((count) => ({ key: count, name: String(count) }))}
        value={settings.frames}
        onChange={(frames) => onChange({ frames: frames ?? 1 })}
      />
      {text("note", "Note", "for the next frame")}
    </div>
  );
}
