import type { Help } from "../../app/screen";

export const HELP: Help = {
  title: "In the pocket",
  keys: [],
  children: (
    <>
      <p>
        What is here was computed on the machine and is only looked up: it opens without the machine, as of the moment
        that is said above. When the machine answers again and something became otherwise, that is marked.
      </p>
      <p>
        The bar under a camera is to scale: from the sensor at the right to the camera’s mount, and to the place where
        the lens wants its own. What is left between them is the ring.
      </p>
      <p>Ticks, and what is noted in the log, wait on this device until the machine answers.</p>
    </>
  ),
};
