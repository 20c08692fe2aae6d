import type { Becomings, LensSet } from "../../../api/client";
import { FocalChart } from "../../../drawing/FocalChart";
import { NestedFrames } from "../../../drawing/NestedFrames";
import { halfViewOn, type Numbered } from "../../../drawing/views";
import { outlook, type Standing } from "./standpoint";
import { whole } from "./words";

interface Props {
  rows: readonly Numbered[];
  chosen: string | null;
  onChoose: (key: string) => void;
  reference: Becomings["reference"];
  /** What stands on the reference for comparison, in mm; null where nothing can. */
  held: number | null;
  scene: Standing;
  depth: boolean;
  gaps?: LensSet["gaps"];
}

/** The views as frames over one scene, and their focal lengths against their apertures. */
export function Drawings({ rows, chosen, onChoose, reference, held, scene, depth, gaps = [] }: Props) {
  if (rows.length === 0) return null;
  const dashed = held !== null && {
    view: halfViewOn(reference.width_mm, reference.height_mm, held),
    name: `${whole(held)} mm on ${reference.name}`,
  };
  return (
    <div className="becomes-drawings">
      <NestedFrames
        rows={rows}
        chosen={chosen}
        onChoose={onChoose}
        reference={dashed || null}
        picture={outlook(scene)}
      />
      <FocalChart
        rows={rows}
        chosen={chosen}
        onChoose={onChoose}
        gaps={gaps}
        depth={depth}
        reference={reference.name}
      />
    </div>
  );
}

/** The focal length on the ring that a row is compared by; none for a fisheye. */
export function heldOf(chosen: Numbered | undefined): number | null {
  const [setting] = chosen?.row.settings ?? [];
  return setting?.angles_deg ? setting.marked_mm : null;
}
