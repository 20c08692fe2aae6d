import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { type CameraDone, type CameraReport, client, unwrap } from "../../../api/client";
import { type CameraQuery, cameraQuery } from "../../../api/queries";

export type Do = (verb: CameraDone["do"], value?: CameraDone["value"]) => void;

interface Camera {
  report: CameraReport | undefined;
  error: Error | null;
  again: () => void;
  act: Do;
}

/** The camera of a rig's body: how it stands, and what is done to it, one thing after another. */
export function useCamera(query: CameraQuery): Camera {
  const queries = useQueryClient();
  const options = cameraQuery(query);
  const camera = useQuery(options);
  const doing = useMutation({
    mutationFn: async (done: CameraDone) =>
      unwrap(await client.POST("/api/v1/camera", { params: { query }, body: done })),
    onMutate: () => queries.cancelQueries({ queryKey: options.queryKey }),
    onSuccess: (report) => {
      queries.setQueryData(options.queryKey, report);
    },
    scope: { id: JSON.stringify(options.queryKey) },
  });
  return {
    report: camera.data,
    error: camera.error ?? doing.error,
    again: () => {
      doing.reset();
      void camera.refetch();
    },
    act: (verb, value) => {
      doing.mutate({ do: verb, value: value ?? null });
    },
  };
}
