import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import Button from "antd/es/button";
import Select from "antd/es/select";
import { useState } from "react";

import { client } from "../../api/client";
import { rigsUsedQuery, type PicturesReport } from "../../api/logQueries";
import { pickerQuery } from "../../api/queries";
import { Refused } from "../../parts/Refused";
import { ABOUT_PICTURES } from "./useSettling";

type Unknown = PicturesReport["unknown_cameras"][number];

/** Cameras that are asked about once. */
export function Cameras({ report }: { report: PicturesReport }) {
  return report.unknown_cameras.map((camera) => (
    <WhoseIsIt key={`${camera.make} ${camera.model} ${camera.serial}`} camera={camera} />
  ));
}

/** Which body signs so. */
function WhoseIsIt({ camera }: { camera: Unknown }) {
  const { make, model, serial, pictures } = camera;
  const queries = useQueryClient();
  const bodies = useQuery(pickerQuery("bodies", ""));
  const used = useQuery(rigsUsedQuery);
  const [body, setBody] = useState<string | null>(null);
  const keep = useMutation({
    mutationFn: (of: string) =>
      client.POST("/api/v1/log/cameras", { body: { body: of, make, model, serial: serial || null, says: [] } }),
    onSuccess: () => queries.invalidateQueries({ predicate: ABOUT_PICTURES }),
  });
  const logged = new Map((used.data ?? []).map((rig) => [rig.body, rig.body_name]));
  const known = new Map([...logged, ...(bodies.data?.items ?? []).map(({ id, name }) => [id, name] as const)]);
  return (
    <section className="whose" data-state="unknown-camera">
      <h2>{`Whose is “${[make, model].filter(Boolean).join(" ")}”?`}</h2>
      <p>
        {`${pictures} ${pictures === 1 ? "picture is" : "pictures are"} signed so${serial ? `, serial number ${serial}` : ""}. It is asked once.`}
      </p>
      <p className="message-actions">
        <Select
          aria-label="Which body?"
          className="whose-body"
          placeholder="Which body?"
          showSearch={{ optionFilterProp: "label" }}
          value={body}
          options={[...known].map(([value, label]) => ({ value, label }))}
          onChange={setBody}
        />
        <Button
          type="primary"
          disabled={body === null}
          loading={keep.isPending}
          onClick={() => body && keep.mutate(body)}
        >
          It is this one
        </Button>
      </p>
      {keep.error && <Refused error={keep.error} />}
    </section>
  );
}
