import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Link, Navigate, Outlet, useLocation, useParams, useSearchParams } from "react-router";

import type { RigsReport } from "../api/client";
import { rigsQuery } from "../api/queries";
import { rigPath } from "../parts/rig";
import { RigMiniature } from "../parts/RigMiniature";
import { lastPair } from "./lastPair";
import { useScreen } from "./screen";
import "./OfPair.css";

/** Views that are of no pair. */
const PAIRLESS = new Set(["measure", "mountless", "thread", "throw"].map((view) => `/bench?${view}`));

/** Where a screen of the pair is opened without one: the pair last looked at, else the kept rigs to choose from. */
export function OfPair() {
  const { pathname, hash } = useLocation();
  const { id } = useParams();
  const [words] = useSearchParams();
  const pairless = PAIRLESS.has(`${pathname}?${words.get("view") ?? ""}`);
  if (id !== undefined || pairless || words.has("lens") || words.has("body") || words.has("piece")) return <Outlet />;
  const last = lastPair();
  if (last) {
    const next = new URLSearchParams(words);
    Object.entries(last).forEach(([key, value]) => next.set(key, value));
    return <Navigate replace to={{ pathname, search: next.toString(), hash }} />;
  }
  return (
    <ChooseRig pathname={pathname}>
      <Outlet />
    </ChooseRig>
  );
}

/** The kept rigs, each drawn small; where none is kept, what the screen itself shows without a pair. */
function ChooseRig({ pathname, children }: { pathname: string; children: ReactNode }) {
  const rigs = useQuery(rigsQuery);
  if (rigs.isError || rigs.data?.rigs.length === 0) return children;
  return rigs.data ? <Kept pathname={pathname} report={rigs.data} /> : <div className="skeleton" />;
}

function Kept({ pathname, report }: { pathname: string; report: RigsReport }) {
  useScreen({ title: "Which rig?", answer: "which rig", className: "which-rig" });
  return (
    <div data-state="which-rig">
      <h1>Which rig?</h1>
      <p>
        Of those that are kept, or of a lens and a body at the <Link to="/">light path</Link>.
        {pathname === "/bench" && (
          <>
            {" Or "}
            <Link to="/bench?view=measure">measure a piece</Link>.
          </>
        )}
      </p>
      <ul className="which-rigs">
        {report.rigs.map((rig) => (
          <li key={rig.id}>
            <Link to={rigPath(rig, pathname)} data-rig={rig.id}>
              <RigMiniature rig={rig} pieces={report.pieces} />
              {rig.name}
            </Link>
          </li>
        ))}
      </ul>
    </div>
  );
}
