import { useQuery } from "@tanstack/react-query";
import Select from "antd/es/select";
import { type ReactNode, useId } from "react";

import { pickerQuery } from "../../../api/queries";
import type { Words } from "../../../app/useChange";
import { STANDINGS } from "./standpoint";
import type { useBecoming } from "./useBecoming";
import { Plain } from "../../../parts/Plain";

interface Props {
  becoming: ReturnType<typeof useBecoming>;
  /** Where there is a set to choose from: only what is at hand, or everything. */
  whose?: boolean;
  glass?: boolean;
  children?: ReactNode;
}

/** What equivalents are compared with, what counts, and from where it is looked at. */
export function AskedWith({ becoming, whose = false, glass = false, children }: Props) {
  const { words, change, asked, scene } = becoming;
  const put = (next: Words) => change(next, false);
  const bodies = useQuery(pickerQuery("bodies", ""));
  const [refId, sceneId] = [useId(), useId()];
  return (
    <div className="frame-controls becomes-asked">
      {children}
      <div className="frame-asked">
        <label htmlFor={refId}>Compared with</label>
        <Select
          id={refId}
          popupMatchSelectWidth={false}
          value={words.get("ref") ?? ""}
          options={[
            { value: "", label: "full frame, 36 × 24" },
            ...(bodies.data?.items ?? []).map(({ id, name }) => ({
              value: id,
              label: `${name}, as I came from`,
            })),
          ]}
          onChange={(ref) => put({ ref })}
        />
      </div>
      <div className="frame-asked">
        <label htmlFor={sceneId}>Seen in</label>
        <Select
          id={sceneId}
          popupMatchSelectWidth={false}
          value={scene}
          options={STANDINGS}
          onChange={(next) => put({ scene: next })}
        />
      </div>
      <div className="toggles">
        {whose && (
          <Plain
            className="filter-toggle"
            aria-pressed={asked.whose === "all"}
            onClick={() => put({ whose: asked.whose === "all" ? "" : "all" })}
          >
            also what is not owned
          </Plain>
        )}
        {glass && (
          <Plain
            className="filter-toggle"
            aria-pressed={asked.with_glass}
            onClick={() => put({ glassless: asked.with_glass ? "1" : "" })}
          >
            with reducers and other glass
          </Plain>
        )}
      </div>
    </div>
  );
}
