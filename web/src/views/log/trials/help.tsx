import type { Help } from "../../../app/screen";

export const TRIALS_HELP: Help = {
  title: "Trials",
  keys: [
    ["1 – 4", "in a cell: sharp, soft, smeared, dark"],
    ["0", "not looked at"],
    ["arrows", "to the next cell"],
  ],
  children: (
    <>
      <p>
        Filled is sharp, half soft, hollow smeared, crossed dark; the centre above, the worst corner below. Where the
        rig is usable is shaded: from the widest stop from which every trial meets what its use demands.
      </p>
      <p>
        Paid stills want centre and corner sharp and no ghost; film and the web a sharp centre and a corner that is at
        least soft; play a centre that is at least soft. Trials that contradict each other are never averaged: strike
        one out, with a reason.
      </p>
      <p>
        Trials made before a piece was converted, serviced, modified or given new firmware are shown, and not counted; a
        frame that failed for another reason than the lens is kept, and does not count against it.
      </p>
    </>
  ),
};
