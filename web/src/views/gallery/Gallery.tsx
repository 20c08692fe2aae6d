import { useQuery } from "@tanstack/react-query";
import { useParams } from "react-router";

import { type GalleryEntry, ProblemError } from "../../api/client";
import { usePractices } from "../../app/Practices";
import { galleryQuery } from "../../api/queries";
import { gradeTitle, GradeMark } from "../../drawing/GradeMark";
import { type Scene, sceneApart, sceneOf, sceneOfOne } from "../../drawing/scene";
import { unbroken } from "../../parts/format";
import { useScreen } from "../../app/screen";
import { Sheet } from "../../drawing/Sheet";

/** Every state a drawing can show, from fixed reports; in the demo only. */
export default function Gallery() {
  const { state } = useParams();
  const gallery = useQuery(galleryQuery);
  const entries = (gallery.data ?? []).filter(({ id }) => state === undefined || id === state);
  const absent = gallery.error instanceof ProblemError && gallery.error.problem.type === "unknown_path";
  useScreen({
    title: "Gallery",
    answer: gallery.isSuccess ? "gallery" : undefined,
    busy: gallery.isPending,
    className: "gallery",
  });
  return (
    <>
      <h1 className="unseen">Gallery of drawn states</h1>
      {gallery.isError && (
        <div className="message" role="alert">
          <h2>{absent ? "The gallery is served by the demo only: tropeion demo." : gallery.error.message}</h2>
        </div>
      )}
      {entries.map((entry) => (
        <Entry key={entry.id} entry={entry} />
      ))}
    </>
  );
}

function sceneIn({ report, fits }: GalleryEntry): Scene | null {
  const route = report?.open;
  if (report && route) return sceneOf(report, route);
  if (report) return sceneApart(report);
  return fits ? sceneOfOne(fits) : null;
}

function Entry({ entry }: { entry: GalleryEntry }) {
  const { start } = usePractices();
  const scene = sceneIn(entry);
  const route = scene?.route;
  const grade = route?.grade ?? "none";
  const sentence = route?.sentence ?? entry.report?.sentence ?? entry.title;
  if (!scene) return null;
  return (
    <section className="gallery-entry" id={entry.id} data-state={entry.id} aria-label={entry.title}>
      <h2>{entry.title}</h2>
      <div className="sheet">
        <div className="sentence">
          {entry.report && <GradeMark grade={grade} size={44} />}
          <h3>{unbroken(sentence)}</h3>
          {route && (
            <p className="sentence-more">
              <span className="grade-word">{gradeTitle(grade)}</span>
            </p>
          )}
        </div>
        <Sheet subjects={start.subjects} scene={scene} units="metric" sentence={sentence} />
      </div>
    </section>
  );
}
