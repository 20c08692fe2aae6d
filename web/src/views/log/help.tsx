import type { Help } from "../../app/screen";

export const HELP: Help = {
  title: "The log",
  keys: [
    ["Enter", "log one more frame as the last one"],
    ["m", "more to be noted"],
    ["Ctrl+Z", "take the last entry back"],
  ],
  children: (
    <p>
      A tap on a stop logs one frame. “From here on” is for all pictures until the next entry, “that series” for those
      since the last one. The pictures are told so later, when they are read in.
    </p>
  ),
};
