import "./UsualNote.css";

import { useQuery } from "@tanstack/react-query";
import Button from "antd/es/button";

import { type Kind, usualQuery } from "../../api/queries";
import { type Fields } from "../../parts/fields";
import { titleOf } from "../../parts/labels";

interface Props {
  kind: Kind;
  item: Fields;
  onTake: (values: Fields, assumed: string[]) => void;
}

/** What is usual for a new item's mount and not given yet, to be taken and marked as assumed. */
export function UsualNote({ kind, item, onTake }: Props) {
  const usual = useUsual(kind, item);
  if (usual.length === 0) return null;
  const said = usual.map(({ field, value }) => {
    const label = titleOf(field).toLowerCase();
    return `${label} ${Array.isArray(value) ? value.join(", ") : String(value)}`;
  });
  return (
    <div className="usual">
      <p>{`Usual here: ${said.join("; ")}.`}</p>
      <Button
        size="small"
        onClick={() => {
          const values = Object.fromEntries(usual.map(({ field, value }) => [field, value]));
          onTake(
            values,
            usual.filter(({ sure }) => !sure).map(({ field }) => field),
          );
        }}
      >
        {`Take ${usual.length === 1 ? "it" : `these ${usual.length}`}, marked as assumed`}
      </Button>
    </div>
  );
}

function useUsual(kind: Kind, item: Fields) {
  const [mount, rear] = kind === "adapters" ? [item.lens_mount, item.body_mount] : [item.mount, undefined];
  const able = kind === "lenses" || kind === "bodies" || kind === "adapters";
  const ready = able && typeof mount === "string" && (kind !== "adapters" || typeof rear === "string");
  const front = typeof mount === "string" ? mount : "";
  const usual = useQuery({
    ...usualQuery(able ? kind : "lenses", front, typeof rear === "string" ? rear : undefined),
    enabled: ready,
  });
  if (!ready || !usual.data) return [];
  return [
    ...usual.data.sure.map((one) => ({ ...one, sure: true })),
    ...usual.data.assumed.map((one) => ({ ...one, sure: false })),
  ].filter((one) => item[one.field] === undefined);
}
