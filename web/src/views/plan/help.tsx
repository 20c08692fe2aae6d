import type { Help } from "../../app/screen";

export const HELP: Help = {
  title: "Plan",
  keys: [["← →", "from step to step, once the budget's line has the focus"]],
  children: (
    <p>
      The curve shows money against what works. Each step is the least that it costs to have so many work; it names what
      it buys. What works slowly stands half as high; at full speed it is a step of its own. Steps are alternatives: a
      plan for more need not hold what a smaller one buys. Drag the line to a budget. What is owned is counted as there;
      pieces without a price are never bought, and are named.
    </p>
  ),
};
