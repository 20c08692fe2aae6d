import { useQueryClient } from "@tanstack/react-query";
import Button from "antd/es/button";
import { useRef, useState } from "react";
import { useNavigate } from "react-router";

import { about } from "../../api/queries";
import { Progress } from "../../parts/Progress";
import { Refused } from "../../parts/Refused";
import { type Dropped, droppedIn, sendHeads } from "./drop";

/** Where pictures are dropped, or chosen; with progress, and stopped at will. */
export function DropZone() {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const input = useRef<HTMLInputElement>(null);
  const stop = useRef<AbortController | null>(null);
  const [over, setOver] = useState(false);
  const [going, setGoing] = useState<{ done: number; all: number } | null>(null);
  const [failed, setFailed] = useState<Error | null>(null);
  const take = async (files: readonly Dropped[]) => {
    if (files.length === 0) return;
    stop.current = new AbortController();
    setFailed(null);
    setGoing({ done: 0, all: files.length });
    try {
      const number = await sendHeads(files, stop.current.signal, (done) => setGoing({ done, all: files.length }));
      await queries.invalidateQueries({ predicate: about("log/sources") });
      await navigate(`/log/pictures/${number}`);
    } catch (error) {
      if (!stop.current.signal.aborted) setFailed(error as Error);
    } finally {
      setGoing(null);
    }
  };
  return (
    <div
      className="drop-zone"
      data-over={over || undefined}
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        void droppedIn(event.dataTransfer).then(take);
      }}
    >
      {going ? (
        <>
          <Progress done={going.done} of={going.all} label="Looked at so far" says={`${going.done} of ${going.all}`} />
          <Button onClick={() => stop.current?.abort()}>Stop</Button>
        </>
      ) : (
        <>
          <p>Drop pictures or a folder here, with their sidecars if they have any.</p>
          <Button onClick={() => input.current?.click()}>Choose pictures</Button>
        </>
      )}
      <input
        ref={input}
        type="file"
        multiple
        className="unseen"
        tabIndex={-1}
        aria-label="Pictures"
        onChange={(event) => {
          const files = [...(event.target.files ?? [])].map((file) => ({ path: file.name, file }));
          event.target.value = "";
          void take(files);
        }}
      />
      {failed && <Refused error={failed} />}
    </div>
  );
}
