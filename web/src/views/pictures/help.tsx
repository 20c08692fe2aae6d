import type { Help } from "../../app/screen";

export const HELP: Help = {
  title: "Pictures and the log",
  keys: [
    ["↑ ↓", "the next doubt, or the last"],
    ["Enter", "it is as proposed"],
    ["1 to 5", "it is of another entry"],
    ["X", "it is of none"],
    ["A", "the same for the rest of the series"],
    ["Ctrl+Z", "take back what was settled"],
  ],
  children: (
    <p>
      Above are the entries of the log, below the pictures where their camera’s clock puts them. Move the lower line
      until the threads run straight: then the clock is right. What does not agree is a doubt, and is settled one by
      one.
    </p>
  ),
};
