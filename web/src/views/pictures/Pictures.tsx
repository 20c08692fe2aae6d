import "./Pictures.css";

import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";

import { sourcesQuery } from "../../api/logQueries";
import { useScreen } from "../../app/screen";
import { Failed } from "../../parts/Failed";
import { DropZone } from "./DropZone";
import { Folder } from "./Folder";
import { HELP } from "./help";

/** Pictures read in: of a folder, else which folder. */
export default function Pictures() {
  const { folder } = useParams();
  const number = Number(folder);
  return folder !== undefined && Number.isInteger(number) && number > 0 ? (
    <Folder key={number} number={number} />
  ) : (
    <Sources />
  );
}

/** The folders that may be read, and a place to drop pictures. */
function Sources() {
  const sources = useQuery(sourcesQuery);
  useScreen({
    title: "Pictures",
    answer: sources.isSuccess ? "pictures" : undefined,
    busy: sources.isPending,
    className: "pictures",
    help: HELP,
  });
  if (sources.error) return <Failed error={sources.error} onRetry={() => void sources.refetch()} />;
  if (!sources.data) return <div className="skeleton" aria-busy="true" />;
  const roots = sources.data.filter(({ dropped }) => !dropped);
  const dropped = sources.data.filter((one) => one.dropped);
  return (
    <div className="message" data-state={sources.data.length === 0 ? "empty" : "sources"}>
      <h1>Which pictures shall be told what they were taken with?</h1>
      {roots.length > 0 && (
        <>
          <h2>On this machine</h2>
          <ul className="held">
            {roots.map(({ number, name, read_at }) => (
              <li key={number}>
                <Link to={`/log/pictures/${number}`}>{name}</Link>
                <span className="route-gives">{read_at ? `read ${read_at.slice(0, 10)}` : "not read yet"}</span>
              </li>
            ))}
          </ul>
        </>
      )}
      {roots.length === 0 && (
        <p>
          No folder was named at the start: <code>tropeion serve --pictures DIR</code> lets one be read, with all that
          lies below it.
        </p>
      )}
      <DropZone />
      {dropped.length > 0 && (
        <>
          <h2>Dropped before</h2>
          <ul className="held">
            {dropped.map(({ number, name }) => (
              <li key={number}>
                <Link to={`/log/pictures/${number}`}>{name}</Link>
              </li>
            ))}
          </ul>
        </>
      )}
      <p className="route-gives">
        Pictures are opened for reading alone. Of what is dropped here the first 512 KB of each file leave the browser,
        and go no farther than this machine.
      </p>
    </div>
  );
}
