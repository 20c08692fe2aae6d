import { useQuery } from "@tanstack/react-query";

import type { AskedQuestion, ShownOf } from "../../api/exerciseQueries";
import { matchQuery, mountQuery } from "../../api/queries";
import { usePractices } from "../../app/Practices";
import { WallPicture } from "../../drawing/bench/WallPicture";
import { MountFace } from "../../drawing/MountFace";
import { RigPieces } from "../../drawing/practice/RigPieces";
import { CircleDrawn, CrestsDrawn, FieldsDrawn, LabelDrawn, SqueezedDrawn } from "../../drawing/practice/Shapes";
import { sceneApart, sceneOf } from "../../drawing/scene";
import { viaOf } from "../../parts/rig";
import { Jaws } from "./Jaws";

interface Props {
  question: AskedQuestion;
  marked: string | null;
  onAnswer: ((id: string) => void) | null;
}

/** What a question shows: never what follows from it. */
export function Drawn({ question, marked, onAnswer }: Props) {
  const { shown, described } = question;
  switch (shown.kind) {
    case "marks":
      return <Marks shown={shown} described={described} />;
    case "label":
      return <LabelDrawn shown={shown} described={described} />;
    case "rig":
      return <Pieces question={question} shown={shown} marked={marked} onAnswer={onAnswer} />;
    case "caliper":
      return <Jaws question={question} shown={shown} onAnswer={onAnswer} />;
    case "crests":
      return <CrestsDrawn shown={shown} described={described} />;
    case "frames":
      return <Frames shown={shown} described={described} />;
    case "fields":
      return <FieldsDrawn shown={shown} described={described} />;
    case "circle":
      return <CircleDrawn shown={shown} described={described} />;
    case "squeezed":
      return <SqueezedDrawn shown={shown} described={described} />;
    case "steps":
      return <Steps shown={shown} described={described} />;
  }
}

function Marks({ shown, described }: { shown: ShownOf<"marks">; described: string }) {
  const page = useQuery(mountQuery(shown.mount));
  if (page.error) return null;
  if (!page.data) return <div className="skeleton" aria-busy="true" />;
  const features = page.data.mount.features.filter(({ id }) => shown.seen.includes(id));
  return <MountFace side="lens" features={features} size={300} label={described} />;
}

interface PiecesProps extends Props {
  shown: ShownOf<"rig">;
}

function Pieces({ question, shown, marked, onAnswer }: PiecesProps) {
  const practice = usePractices().own;
  const { lens, body, adapters } = shown;
  const match = useQuery({ ...matchQuery({ lens, body, practice, via: viaOf(adapters) }), retry: false });
  // A lens without a mount stands before no body yet.
  if (match.error) return <p className="practice-nothing">{question.described}</p>;
  if (!match.data) return <div className="skeleton" aria-busy="true" />;
  const route = match.data.open;
  const scene = route ? sceneOf(match.data, route) : sceneApart(match.data);
  const pointing = question.by === "point";
  return (
    <RigPieces
      scene={scene}
      described={question.described}
      onPoint={pointing && onAnswer ? onAnswer : undefined}
      pointed={pointing ? marked : null}
    />
  );
}

function Frames({ shown, described }: { shown: ShownOf<"frames">; described: string }) {
  return (
    <ol className="practice-frames" aria-label={described}>
      {shown.frames.map(({ frame, saw, title, label }) => (
        <li key={frame}>
          <WallPicture saw={saw} />
          <span>{title}</span>
          <em>{label}</em>
        </li>
      ))}
    </ol>
  );
}

function Steps({ shown, described }: { shown: ShownOf<"steps">; described: string }) {
  if (shown.done.length === 0) return <p className="practice-nothing">Nothing is done yet.</p>;
  return (
    <ol className="practice-done-steps" aria-label={described}>
      {shown.done.map((step) => (
        <li key={step}>{step}</li>
      ))}
    </ol>
  );
}
