import "./States.css";

import { useMutation, useQueryClient } from "@tanstack/react-query";
import Button from "antd/es/button";
import type { ReactNode } from "react";
import { useNavigate } from "react-router";

import { client, ProblemError, unwrap } from "../../api/client";
import type { Change } from "../../app/useAddress";
import { FileChooser } from "../../parts/FileChooser";

/** An id in the address that is not in the collection: which, and what is near. */
export function UnknownId({
  error,
  via,
  go,
}: {
  error: ProblemError;
  via: string | null;
  go: (change: Change) => void;
}) {
  const { problem } = error;
  const missing = problem.id ?? "";
  const kind = problem.kind ?? "item";
  const take = (id: string) => {
    if (kind === "lens") go({ lens: id, via: null });
    else if (kind === "body") go({ body: id, via: null });
    else
      go({
        via: (via ?? "")
          .split(",")
          .map((part) => (part.trim() === missing ? id : part))
          .join(","),
      });
  };
  return (
    <div className="message" role="alert" data-state="unknown-id">
      <h1>{`The address names ${kind === "adapter" ? "an" : "a"} ${kind} that is not in the collection.`}</h1>
      <p>{problem.detail}</p>
      <p className="message-actions">
        {problem.near.map((id) => (
          <Button key={id} onClick={() => take(id)}>
            {id}
          </Button>
        ))}
        <Button
          type="primary"
          onClick={() => {
            go(kind === "adapter" ? { via: null } : { [kind]: null, via: null });
          }}
        >
          {kind === "adapter" ? "All routes" : `Choose another ${kind}`}
        </Button>
      </p>
    </div>
  );
}

/** One end is empty. */
export function NoPair({
  missing,
  drawing,
  onPick,
}: {
  missing: "lens" | "body" | "pair";
  drawing: ReactNode;
  onPick: () => void;
}) {
  return (
    <div className="sheet no-pair" data-state="no-pair">
      <div className="sentence">
        <h1>
          {missing === "pair"
            ? "Pick a lens and a body, and the answer is drawn here."
            : missing === "body"
              ? "Which camera? These take it."
              : "Which lens? These go on it."}
        </h1>
        <p className="message-actions">
          <Button type="primary" onClick={onPick}>
            {missing === "body" ? "Pick a body" : "Pick a lens"}
          </Button>
        </p>
      </div>
      {drawing}
    </div>
  );
}

/** A collection with nothing in it: bring a gear file, or look at the sample world. */
export function EmptyCollection() {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const done = () => queries.invalidateQueries();
  const sample = useMutation({
    mutationFn: async () => unwrap(await client.POST("/api/v1/gear/sample")),
    onSuccess: done,
  });
  const load = useMutation({
    mutationFn: async (file: File) => {
      const text = await file.text();
      return unwrap(await client.PUT("/api/v1/gear", { body: {}, bodySerializer: () => text }));
    },
    onSuccess: done,
  });
  const error = load.error ?? sample.error;
  const problems = error instanceof ProblemError ? error.problem.errors : [];
  return (
    <div className="message" data-state="empty">
      <h1>Your collection is empty.</h1>
      <p>Enter what you have, load a file, or look round the sample first: all of that is invented.</p>
      <p className="message-actions">
        <Button
          type="primary"
          href="/begin"
          onClick={(event) => {
            event.preventDefault();
            void navigate("/begin");
          }}
        >
          Enter what I have
        </Button>
        <FileChooser
          says="Load a gear file"
          label="Gear file"
          accept=".json,application/json"
          busy={load.isPending}
          onFile={(file) => load.mutate(file)}
        />
        <Button loading={sample.isPending} onClick={() => sample.mutate()}>
          Look round the sample
        </Button>
      </p>
      {error && (
        <div role="alert" className="problems">
          <p>{error.message}</p>
          <ul className="bulleted">
            {problems.slice(0, 12).map((entry) => (
              <li key={`${entry.place} ${entry.message}`}>
                <code>{entry.place}</code> {entry.message}
                {entry.hint ? ` (${entry.hint})` : ""}
              </li>
            ))}
          </ul>
        </div>
      )}
    </div>
  );
}
