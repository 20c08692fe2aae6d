import "./Away.css";

import Button from "antd/es/button";
import { Link } from "react-router";

import { keep } from "../parts/csv";
import { CARRIES } from "../pocket/away";
import { useAnswering, useCarried, useDeeds, useRegistered } from "../pocket/hooks";
import { inLogFile, LOG_FILE_NAME, logFileOf } from "../pocket/logFile";
import { letIn } from "../pocket/registration";
import { usePractices } from "./Practices";

const time = (at: Date) => at.toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" });

/** On a phone: that the machine does not answer, what is here all the same, how much waits; and what is newer. */
export function Away() {
  const { away, at } = useAnswering();
  const { pocket } = useCarried();
  const { waiting: newer } = useRegistered();
  const { collection } = usePractices().start;
  const deeds = useDeeds() ?? [];
  const others = deeds.filter((one) => one.collection !== collection);
  const own = deeds.length - others.length;
  if (!CARRIES) return null;
  return (
    <>
      {newer && (
        <p className="away" role="status" data-newer={newer}>
          {newer === "build"
            ? "The machine has another version of Tropeion than this device. "
            : "The machine serves another collection than the one that this device keeps. What waits here stays. "}
          <Button size="small" onClick={letIn}>
            {newer === "build" ? "Use it" : "Change to it"}
          </Button>
        </p>
      )}
      {away && (
        <p className="away" role="status" data-away="true">
          {`The machine does not answer${at ? ` since ${time(at)}` : ""}. `}
          {pocket ? (
            <>
              {`Here as of ${time(new Date(pocket.made_at))}: `}
              <Link to="/pocket">what is carried</Link> and <Link to="/log">the log</Link>.
            </>
          ) : (
            <>
              The <Link to="/log">log</Link> goes on here.
            </>
          )}
          {own > 0 && ` ${own} ${own === 1 ? "thing waits" : "things wait"} to be sent.`}
        </p>
      )}
      {others.length > 0 && (
        <p className="away" role="status" data-others={others.length}>
          {`${others.length} ${others.length === 1 ? "thing waits" : "things wait"} on this device for another collection. `}
          {inLogFile(others) > 0 && (
            <Button size="small" onClick={() => keep(LOG_FILE_NAME, "application/json", logFileOf(others))}>
              Save as a log file
            </Button>
          )}
        </p>
      )}
    </>
  );
}
