import "./UndoBar.css";

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import Button from "antd/es/button";
import Popconfirm from "antd/es/popconfirm";
import { lazy, memo, Suspense, useEffect, useState } from "react";

import { client, unwrap } from "../api/client";
import { historyQuery, startQuery } from "../api/queries";
import { moment } from "./format";
import { Panel } from "./Panel";

const KeepHistory = lazy(() => import("./KeepHistory"));

/** More entries than this are not taken back without asking. */
const MANY = 20;

const typing = (target: EventTarget | null) =>
  target instanceof HTMLElement && (["INPUT", "TEXTAREA"].includes(target.tagName) || target.isContentEditable);

/** Take back, do again, and what was done; nothing for a device that only reads and logs. */
export const UndoBar = memo(function UndoBar() {
  const start = useQuery(startQuery);
  return start.data?.may === "log" ? null : <Turning />;
});

/** Ctrl+Z and Ctrl+Shift+Z while nothing is typed. */
function Turning() {
  const queries = useQueryClient();
  const [open, setOpen] = useState(false);
  const history = useQuery(historyQuery);
  const turn = useMutation({
    mutationFn: async (way: "undo" | "redo") =>
      unwrap(await client.POST(way === "undo" ? "/api/v1/undo" : "/api/v1/redo")),
    onSuccess: async () => await queries.invalidateQueries(),
  });
  const { undo = null, redo = null, actions = [] } = history.data ?? {};
  const many = actions.find(({ undone }) => !undone)?.items ?? 0;
  // What empties half a collection is not done by a slip of the hand.
  const large = undo !== null && many > MANY;
  const [asking, setAsking] = useState(false);
  useEffect(() => {
    const pressed = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "z" || typing(event.target)) return;
      event.preventDefault();
      if (turn.isPending) return;
      if (large && !event.shiftKey) setAsking(true);
      else turn.mutate(event.shiftKey ? "redo" : "undo");
    };
    window.addEventListener("keydown", pressed);
    return () => window.removeEventListener("keydown", pressed);
  });
  return (
    <span className="undo" aria-live="polite">
      <Popconfirm
        title={`This takes back ${many} entries at once.`}
        okText="Undo it"
        cancelText="Cancel"
        open={asking}
        onOpenChange={(shown) => setAsking(shown && large)}
        onConfirm={() => turn.mutate("undo")}
      >
        <Button
          size="small"
          disabled={!undo || turn.isPending}
          onClick={() => {
            if (!large) turn.mutate("undo");
          }}
          title="Ctrl+Z"
        >
          {undo ? `Undo: ${undo}` : "Nothing to undo"}
        </Button>
      </Popconfirm>
      {redo && (
        <Button size="small" disabled={turn.isPending} onClick={() => turn.mutate("redo")} title="Ctrl+Shift+Z">
          {`Redo: ${redo}`}
        </Button>
      )}
      <Button size="small" type="text" onClick={() => setOpen(true)}>
        History
      </Button>
      {turn.isError && (
        <span role="alert" className="problem-line">
          {turn.error.message}
        </span>
      )}
      <Panel
        title="What was done"
        open={open}
        onClose={() => setOpen(false)}
        size={400}
        mask={false}
        destroyOnHidden
        className="panel"
      >
        <ol className="history">
          {(history.data?.actions ?? []).map((action) => (
            <li key={action.id} className={action.undone ? "gone" : ""}>
              <span>{action.title}</span>
              <span className="route-gives">
                {[moment(action.at), action.undone ? "taken back" : ""].filter(Boolean).join(", ")}
              </span>
            </li>
          ))}
          {history.data?.actions.length === 0 && <li>Nothing yet.</li>}
        </ol>
        {history.data && (
          <Suspense fallback={null}>
            <KeepHistory history={history.data} />
          </Suspense>
        )}
      </Panel>
    </span>
  );
}
