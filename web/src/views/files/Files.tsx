import "./Files.css";

import { useMutation } from "@tanstack/react-query";
import Segmented from "antd/es/segmented";
import { type DragEvent, useState } from "react";
import { Link, useNavigate } from "react-router";

import type { ImportPreview } from "../../api/client";
import { send } from "../../api/client";
import { useScreen } from "../../app/screen";
import { FileChooser } from "../../parts/FileChooser";
import { KIND_WORDS, KINDS } from "../../parts/labels";
import { Refused } from "../../parts/Refused";
import { UndoBar } from "../../parts/UndoBar";
import { Backup } from "./Backup";
import { Preview } from "./Preview";
import { Restore } from "./Restore";

const MEGABYTE = 1024 * 1024;

/** Import and export: lists and gear files with a preview, and a backup of everything. */
export default function Files() {
  const navigate = useNavigate();
  const look = useMutation({
    mutationFn: async (file: File) => {
      if (file.size > 32 * MEGABYTE) {
        const size = Math.ceil(file.size / MEGABYTE);
        throw new Error(`${file.name} has ${size} MB; at most 32 MB are read. Split it.`);
      }
      const response = await send(`/api/v1/import?name=${encodeURIComponent(file.name)}`, file);
      return (await response.json()) as ImportPreview;
    },
  });
  useScreen({
    title: "Files",
    answer: `files ${look.data?.token ?? ""}`.trim(),
    className: "files",
    keys: {
      l: () => void navigate("/"),
      k: () => void navigate("/kit"),
      Escape: () => {
        if (look.data) look.reset();
      },
    },
  });
  return (
    <>
      <div className="kit-head">
        <h1>Import and export</h1>
        <UndoBar />
        <Link to="/kit">To the kit</Link>
      </div>
      <BringIn busy={look.isPending} error={look.error} onFile={(file) => look.mutate(file)} />
      {look.data && <Preview key={look.data.token} preview={look.data} onDone={() => look.reset()} />}
      <div className="files-out">
        <TakeOut />
        <section>
          <Backup />
          <Restore />
        </section>
      </div>
    </>
  );
}

interface BringProps {
  busy: boolean;
  error: Error | null;
  onFile: (file: File) => void;
}

/** A file is dropped, or chosen. */
function BringIn({ busy, error, onFile }: BringProps) {
  const [over, setOver] = useState(false);
  const dropped = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    const file = event.dataTransfer.files[0];
    if (file) onFile(file);
  };
  return (
    <section
      className={`drop ${over ? "over" : ""}`}
      aria-label="Import"
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={dropped}
    >
      <h2>Import</h2>
      <p>Drop a gear file or a table here. You see what it would do before anything is written.</p>
      <p>
        <FileChooser
          says="Choose a file"
          label="A file to import"
          accept=".json,.csv,.tsv,.txt"
          busy={busy}
          primary
          onFile={onFile}
        />
        <span className="route-gives">
          {" "}
          Tables as spreadsheets save them: commas, semicolons or tabs, decimal comma or point.
        </span>
      </p>
      {error && <Refused error={error} />}
    </section>
  );
}

function TakeOut() {
  const [decimal, setDecimal] = useState<"point" | "comma">("point");
  return (
    <section>
      <h2>Export</h2>
      <p>
        <a href="/api/v1/gear" download>
          The whole collection, as a gear file
        </a>
        <span className="route-gives"> import it again and nothing changes</span>
      </p>
      <p className="decimal">
        <span>Tables with a decimal</span>
        <Segmented
          size="small"
          value={decimal}
          onChange={setDecimal}
          options={[
            { value: "point", label: "point" },
            { value: "comma", label: "comma" },
          ]}
        />
      </p>
      <ul className="held">
        {KINDS.map((kind) => (
          <li key={kind}>
            <a href={`/api/v1/export?kind=${kind}&decimal=${decimal}`} download>
              {KIND_WORDS[kind].many}
            </a>
            <span className="route-gives">a row each, headers with units</span>
          </li>
        ))}
      </ul>
      <p className="route-gives">A few of them: select them on their shelf.</p>
    </section>
  );
}
