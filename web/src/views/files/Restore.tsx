import "./Restore.css";

import { useMutation, useQueryClient } from "@tanstack/react-query";
import Button from "antd/es/button";

import type { BackupPreview } from "../../api/client";
import { send } from "../../api/client";
import { FileChooser } from "../../parts/FileChooser";
import { moment } from "../../parts/format";
import { shelfWord } from "../../parts/labels";
import { Refused } from "../../parts/Refused";

/** A backup put back: what is in it is shown first; undo takes it back. */
export function Restore() {
  const queries = useQueryClient();
  const look = useMutation({
    mutationFn: async (file: File) => {
      const response = await send(`/api/v1/restore?name=${encodeURIComponent(file.name)}`, file);
      return (await response.json()) as BackupPreview;
    },
  });
  const restore = useMutation({
    mutationFn: (token: string) => send(`/api/v1/restore/${token}`, ""),
    onSuccess: () => {
      look.reset();
      return queries.invalidateQueries();
    },
  });
  return (
    <div>
      <h2>Restore</h2>
      <p>A backup takes the place of everything there is. What is in it is shown first, and undo takes it back.</p>
      <FileChooser
        says="Choose a backup"
        label="A backup to restore"
        accept=".sqlite,.db"
        busy={look.isPending}
        onFile={(file) => {
          restore.reset();
          look.mutate(file);
        }}
      />
      {look.data && (
        <InIt
          preview={look.data}
          busy={restore.isPending}
          onRestore={(token) => restore.mutate(token)}
          onLeave={() => look.reset()}
        />
      )}
      {look.isError && <Refused error={look.error} />}
      {restore.isError && <Refused error={restore.error} />}
      {restore.isSuccess && (
        <p role="status" data-state="restored">
          Restored. Undo takes it back.
        </p>
      )}
    </div>
  );
}

interface InItProps {
  preview: BackupPreview;
  busy: boolean;
  onRestore: (token: string) => void;
  onLeave: () => void;
}

const SETTINGS: Record<BackupPreview["settings"][number], string> = {
  currency: "Prices are in the currency of then.",
  practice: "Your preferences become what they were then.",
  subjects: "The marks on the ribbon of distances become what they were then.",
  order: "Some shelves stand in another order.",
};

/** What is in a backup, beside what there is now. */
function InIt({ preview, busy, onRestore, onLeave }: InItProps) {
  const { last, shelves, settings, same } = preview;
  return (
    <div className="conflict-box in-backup" role="alertdialog" aria-label="Restore?" data-state="restore">
      <h3>{`Put ${preview.name} in the place of everything?`}</h3>
      <p>{last ? `Last change ${moment(last.at)}: ${last.title}` : "Nothing was ever changed in it"}</p>
      {same ? (
        <p>It holds just what there is now.</p>
      ) : (
        <table>
          <thead>
            <tr>
              <td />
              <th scope="col">in it</th>
              <th scope="col">comes</th>
              <th scope="col">changes</th>
              <th scope="col">goes</th>
            </tr>
          </thead>
          <tbody>
            {shelves.map(({ kind, items, added, changed, gone }) => (
              <tr key={kind}>
                <th scope="row">{shelfWord(kind)}</th>
                <td>{items}</td>
                {[added, changed, gone].map((count, column) => (
                  <td key={column} className={count ? "" : "none"}>
                    {count || "–"}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {settings.map((one) => (
        <p key={one}>{SETTINGS[one]}</p>
      ))}
      <p className="message-actions">
        <Button type="primary" danger disabled={same} loading={busy} onClick={() => onRestore(preview.token)}>
          Restore it
        </Button>
        <Button onClick={onLeave}>Cancel</Button>
      </p>
    </div>
  );
}
