import type { Help } from "../../app/screen";

export const HELP: Help = {
  title: "What fits what",
  keys: [
    ["← → ↑ ↓", "move over the grid (once it has the focus)"],
    ["Enter", "the light path of the pair"],
    ["/", "find lenses"],
    ["m", "only what you own"],
    ["s", "only lenses that work on nothing of yours"],
  ],
  children: (
    <p>
      Each cell shows the mark of the best grade. A filled tile works with what you own; a dashed one would, with
      something to buy, and its mark is pale. A turned-up corner: buying something makes it better. The bars over the
      bodies count how many of the shown lenses work on them; the numbers on the right, on how many bodies a lens works
      now, and could.
    </p>
  ),
};
