import { useEffect, useRef, useState } from "react";

import type { Frame } from "./scale";
import { between, type Scene } from "./scene";

const DURATION_MS = 120;
// Where a frame takes long the change takes longer: it is seen all the same.
const LONGEST_FRAME_MS = 40;

const still = () => window.matchMedia("(prefers-reduced-motion: reduce)").matches;

/** One route's drawing changes into the next of the same pair; everything else is drawn at once. */
export function useTween(scene: Scene, frame: Frame): { scene: Scene; frame: Frame; moving: boolean } {
  const drawn = useRef({ scene, frame });
  const [moving, setMoving] = useState<{ scene: Scene; frame: Frame; of: Scene } | null>(null);
  useEffect(() => {
    const from = drawn.current;
    drawn.current = { scene, frame };
    const related =
      from.scene.route !== scene.route &&
      from.scene.route !== null &&
      scene.route !== null &&
      from.scene.lens === scene.lens &&
      from.scene.body === scene.body &&
      from.frame.width === frame.width &&
      from.frame.upright === frame.upright;
    if (!related || still()) return;
    let before = performance.now();
    let spent = 0;
    let request = 0;
    const step = (now: number) => {
      spent += Math.min(Math.max(0, now - before), LONGEST_FRAME_MS);
      before = now;
      const time = Math.min(1, spent / DURATION_MS);
      const share = 1 - (1 - time) ** 3;
      if (time >= 1) {
        setMoving(null);
        return;
      }
      const mix = (a: number, b: number) => a + (b - a) * share;
      setMoving({
        of: scene,
        scene: between(from.scene, scene, share),
        frame: {
          ...frame,
          scale: mix(from.frame.scale, frame.scale),
          sensor: mix(from.frame.sensor, frame.sensor),
          axis: mix(from.frame.axis, frame.axis),
        },
      });
      request = requestAnimationFrame(step);
    };
    request = requestAnimationFrame(step);
    return () => {
      cancelAnimationFrame(request);
      setMoving(null);
    };
  }, [scene, frame]);
  return moving?.of === scene
    ? { scene: moving.scene, frame: moving.frame, moving: true }
    : { scene, frame, moving: false };
}
