import type { KeptRig, RigsReport } from "../api/client";
import { smallOf, Stack } from "../drawing/Stack";

/** A kept rig, drawn small and to scale. */
export function RigMiniature({ rig, pieces }: { rig: KeptRig; pieces: RigsReport["pieces"] }) {
  const { section, lens, body, adapters } = rig;
  const scene = { section, pieces, lens, body, adapters, route: null };
  return <Stack small={smallOf(scene)} scale={0.8} width={150} height={50} />;
}
