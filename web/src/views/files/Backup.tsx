import { useMutation, useQueryClient } from "@tanstack/react-query";
import Button from "antd/es/button";
import { useRef, useState } from "react";

import { send } from "../../api/send";
import { Refused } from "../../parts/Refused";

/** Everything in one file, and back again. */
export function Backup() {
  const queries = useQueryClient();
  const restorer = useRef<HTMLInputElement>(null);
  const [asking, setAsking] = useState<File | null>(null);
  const restore = useMutation({
    mutationFn: async (file: File) =>
      (await (await send("/api/v1/restore", file)).json()) as { kept: string | null },
    onSuccess: async () => {
      setAsking(null);
      await queries.invalidateQueries();
    },
  });
  const kept = restore.data?.kept ?? "nothing: there was none";
  return (
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
      <Button onClick={() => restorer.current?.click()}>Choose a backup</Button>
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
            <Button type="primary" danger loading={restore.isPending} onClick={() => restore.mutate(asking)}>
              Restore it
            </Button>
            <Button onClick={() => setAsking(null)}>Leave it</Button>
          </p>
        </div>
      )}
      {restore.isError && <Refused error={restore.error} />}
      {restore.data && (
        <p role="status" data-state="restored">
          {`Restored. The collection as it was is kept as ${kept}.`}
        </p>
      )}
    </section>
  );
}
