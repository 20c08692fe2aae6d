import { useSearchParams } from "react-router";

import { Views } from "../../parts/Views";
import { addressOf, VIEWS, viewIn } from "./viewNames";

/** What of the frame is looked at: its picture, or one of the tables beside it. */
export function FrameViews() {
  const [words] = useSearchParams();
  return (
    <Views label="Of the frame" views={VIEWS} current={viewIn(words)} addressOf={(view) => addressOf(words, view)} />
  );
}
