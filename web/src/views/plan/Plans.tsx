import "./Plan.css";

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import Button from "antd/es/button";
import { Link, useNavigate } from "react-router";

import { client, unwrap } from "../../api/client";
import { plansQuery } from "../../api/planQueries";
import { useScreen } from "../../app/screen";
import { useAddress } from "../../app/useAddress";
import { Failed } from "../../parts/Failed";
import { today } from "../../parts/format";
import { Refused } from "../../parts/Refused";
import { UndoBar } from "../../parts/UndoBar";
import { Beside } from "./Beside";
import { HELP } from "./help";
import { Idle } from "./Idle";
import { about } from "../../api/queries";

/** Every plan that is kept, and whether it still holds; a new one over everything at hand. */
export default function Plans() {
  const [{ practice }] = useAddress();
  const navigate = useNavigate();
  const queries = useQueryClient();
  const plans = useQuery(plansQuery(practice));
  const begin = useMutation({
    mutationFn: async (whole: boolean) =>
      unwrap(
        await client.POST("/api/v1/plans", {
          params: { query: { practice } },
          body: whole ? { name: `Everything I own, ${today()}` } : { name: `Plan of ${today()}`, question: EMPTY },
        }),
      ),
    onSuccess: async (page) => {
      await queries.invalidateQueries({ predicate: about("plans") });
      await navigate(`/plan/${page.id}`);
    },
  });
  useScreen({
    title: "What to buy",
    answer: plans.isSuccess ? "plans" : undefined,
    busy: plans.isPending,
    className: "plan",
    help: HELP,
  });
  if (plans.error) return <Failed error={plans.error} onRetry={() => void plans.refetch()} />;
  if (!plans.data) return <div className="skeleton" aria-busy="true" />;
  const none = plans.data.length === 0;
  return (
    <div className="message" data-state={none ? "empty" : "plans"}>
      <h1>{none ? "The least money that keeps your lenses in use." : "What to buy"}</h1>
      {none ? (
        <p>Say what must work, and how well. You get the cheapest purchase that does it, with proof.</p>
      ) : (
        <ul className="held plans">
          {plans.data.map(({ id, name, demands, cost, holds }) => (
            <li key={id}>
              <Link to={`/plan/${id}`}>{name}</Link>
              <span className={holds === false ? "plan-broken" : "route-gives"}>
                {`${demands} to work${cost === null ? "" : `, ${cost}`}${
                  holds === null ? ", not kept yet" : holds ? ", still holds" : ", does not hold any more"
                }`}
              </span>
            </li>
          ))}
        </ul>
      )}
      {begin.error && <Refused error={begin.error} />}
      <p className="message-actions">
        <Button type="primary" loading={begin.isPending} onClick={() => begin.mutate(true)}>
          Plan for everything I own
        </Button>
        <Button onClick={() => begin.mutate(false)}>Begin with nothing</Button>
      </p>
      <Idle practice={practice} />
      {plans.data.length > 1 && <Beside plans={plans.data} practice={practice} />}
      <UndoBar />
    </div>
  );
}

const EMPTY = {
  demands: [],
  together: false,
  prices: "new" as const,
  rent: [],
  days: 1,
  buy: [],
  sell: [],
  without: [],
  sold_out: [],
  without_words: [],
  only_locking: false,
  no_glass: false,
  full_speed: false,
};
