import "../kit/kit.css";
import "./files.css";

import { useMutation, useQueryClient } from "@tanstack/react-query";
import Button from "antd/es/button";
import Segmented from "antd/es/segmented";
import { type DragEvent, useRef, useState } from "react";
import { Link, useNavigate } from "react-router";

import type { ImportPreview } from "../../api/client";
import { useScreen } from "../../app/screen";
import { KIND_WORDS, KINDS } from "../../parts/labels";
import { UndoBar } from "../../parts/UndoBar";
import { Preview } from "./Preview";
import { Refused } from "../../parts/Refused";
import { send } from "../../api/send";

const MEGABYTE = 1024 * 1024;

/** Files in and out: lists and gear files with a preview, and a backup of everything. */
export default function Files() {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const [decimal, setDecimal] = useState<"point" | "comma">("point");
  const [over, setOver] = useState(false);
  const chooser = useRef<HTMLInputElement>(null);
  const restorer = useRef<HTMLInputElement>(null);
  const [asking, setAsking] = useState<File | null>(null);
  const look = useMutation({
    mutationFn: async (file: File) => {
      if (file.size > 32 * MEGABYTE) {
        throw new Error(
          `${file.name} has ${Math.ceil(file.size / MEGABYTE)} MB; at most 32 MB are read. Split it.`,
        );
      }
      const response = await send(`/api/v1/import?name=${encodeURIComponent(file.name)}`, file);
      return (await response.json()) as ImportPreview;
    },
  });
  const restore = useMutation({
    mutationFn: async (file: File) =>
      (await (await send("/api/v1/restore", file)).json()) as { kept: string | null },
    onSuccess: async () => {
      setAsking(null);
      await queries.invalidateQueries();
    },
  });
  useScreen({
    title: "Files",
    answer: `files ${look.data?.token ?? ""}`.trim(),
    className: "files",
    keys: {
      l: () => {
        void navigate("/");
      },
      k: () => {
        void navigate("/kit");
      },
      Escape: () => {
        if (look.data) look.reset();
      },
    },
  });
  const dropped = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    const file = event.dataTransfer.files[0];
    if (file) look.mutate(file);
  };
  return (
    <>
      <div className="kit-head">
        <h1>Files in and out</h1>
        <UndoBar />
        <Link to="/kit">To the kit</Link>
      </div>
      <section
        className={`drop ${over ? "over" : ""}`}
        aria-label="Bring in"
        onDragOver={(event) => {
          event.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => {
          setOver(false);
        }}
        onDrop={dropped}
      >
        <h2>Bring in</h2>
        <p>Drop a gear file or a table here. You see what it would do before anything is written.</p>
        <p>
          <Button
            type="primary"
            loading={look.isPending}
            onClick={() => {
              chooser.current?.click();
            }}
          >
            Choose a file
          </Button>
          <input
            ref={chooser}
            type="file"
            className="unseen"
            tabIndex={-1}
            aria-label="A file to bring in"
            accept=".json,.csv,.tsv,.txt"
            onChange={(event) => {
              const file = event.target.files?.[0];
              if (file) look.mutate(file);
              event.target.value = "";
            }}
          />
          <span className="route-gives">
            {" "}
            Tables as spreadsheets save them: commas, semicolons or tabs, decimal comma or point.
          </span>
        </p>
        {look.isError && <Refused error={look.error} />}
      </section>
      {look.data && (
        <Preview
          key={look.data.token}
          preview={look.data}
          onDone={() => {
            look.reset();
          }}
        />
      )}
      <div className="files-out">
        <section>
          <h2>Take out</h2>
          <p>
            <a href="/api/v1/gear" download>
              The whole collection, as a gear file
            </a>
            <span className="route-gives"> bring it in again and nothing changes</span>
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
        <section>
          <h2>Backup</h2>
          <p>
            <a href="/api/v1/backup" download>
              Everything in one file
            </a>
            <span className="route-gives"> with its history and settings, while the application runs</span>
          </p>
          <h2>Restore</h2>
          <p>A backup takes the place of the whole collection. What is there now is kept beside it.</p>
          <Button
            onClick={() => {
              restorer.current?.click();
            }}
          >
            Choose a backup
          </Button>
          <input
            ref={restorer}
            type="file"
            className="unseen"
            tabIndex={-1}
            aria-label="A backup to restore"
            accept=".sqlite,.db"
            onChange={(event) => {
              restore.reset();
              setAsking(event.target.files?.[0] ?? null);
              event.target.value = "";
            }}
          />
          {asking && (
            <div className="conflict-box" role="alertdialog" aria-label="Restore?" data-state="restore">
              <h3>{`Put ${asking.name} in the place of everything?`}</h3>
              <p className="message-actions">
                <Button
                  type="primary"
                  danger
                  loading={restore.isPending}
                  onClick={() => {
                    restore.mutate(asking);
                  }}
                >
                  Restore it
                </Button>
                <Button
                  onClick={() => {
                    setAsking(null);
                  }}
                >
                  Leave it
                </Button>
              </p>
            </div>
          )}
          {restore.isError && <Refused error={restore.error} />}
          {restore.data && (
            <p
              role="status"
              data-state="restored"
            >{`Restored. The collection as it was is kept as ${restore.data.kept ?? "nothing: there was none"}.`}</p>
          )}
        </section>
      </div>
    </>
  );
}
