import "./Outing.css";

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import Button from "antd/es/button";
import { Link, useNavigate } from "react-router";

import { client, unwrap } from "../../api/client";
import { outingQuery, outingsQuery, rigsQuery } from "../../api/queries";
import { useScreen } from "../../app/screen";
import { Failed } from "../../parts/Failed";
import { Refused } from "../../parts/Refused";
import { today } from "../../parts/format";
import { RigMiniature } from "../../parts/RigMiniature";
import { HELP } from "./help";

/** Every outing, and a new one from the rigs that are kept. */
export default function Outings() {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const outings = useQuery(outingsQuery);
  const rigs = useQuery(rigsQuery);
  const kept = rigs.data?.rigs ?? [];
  const begin = useMutation({
    mutationFn: async (all: boolean) => {
      const shots = all ? kept.map(({ id, name }) => ({ name, rig: id })) : [];
      const body = { name: `Outing of ${today()}`, day: today(), shots, spare: [], packed: [] };
      return unwrap(await client.POST("/api/v1/outings", { body }));
    },
    onSuccess: async (page) => {
      queries.setQueryData(outingQuery(page.id).queryKey, page);
      await queries.invalidateQueries({ queryKey: outingsQuery.queryKey, exact: true });
      await navigate(`/outing/${page.id}`);
    },
  });
  const there = outings.isSuccess && rigs.isSuccess;
  useScreen({
    title: "Outings",
    answer: there ? "outings" : undefined,
    busy: !there,
    className: "outing",
    help: HELP,
  });
  const failure = outings.error ?? rigs.error;
  if (failure) return <Failed error={failure} onRetry={() => void outings.refetch()} />;
  if (!outings.data || !rigs.data) return <div className="skeleton" aria-busy="true" />;
  return (
    <div className="message" data-state={outings.data.length === 0 ? "empty" : "outings"}>
      <h1>{outings.data.length === 0 ? "No outing is planned yet." : "Outings"}</h1>
      {outings.data.length > 0 && (
        <ul className="held outings">
          {outings.data.map(({ id, name, day, shots }) => (
            <li key={id}>
              <Link to={`/outing/${id}`}>{name}</Link>
              <span className="route-gives">
                {`${day ?? "no day yet"}, ${shots} ${shots === 1 ? "shot" : "shots"}`}
              </span>
            </li>
          ))}
        </ul>
      )}
      <p>
        {kept.length === 0
          ? "An outing is made of kept rigs: on the light path, choose a route and keep it."
          : "What is packed for several rigs, which ring stays on which lens, and in which order to shoot."}
      </p>
      {kept.length > 0 && (
        <ul className="which-rigs">
          {kept.map((rig) => (
            <li key={rig.id}>
              <Link to={`/setup/${rig.id}`}>
                <RigMiniature rig={rig} pieces={rigs.data.pieces} />
                {rig.name}
              </Link>
            </li>
          ))}
        </ul>
      )}
      {begin.error && <Refused error={begin.error} />}
      <p className="message-actions">
        {kept.length === 0 ? (
          <Link to="/">To the light path</Link>
        ) : (
          <>
            <Button type="primary" loading={begin.isPending} onClick={() => begin.mutate(true)}>
              {`Plan one with the ${kept.length} kept rigs`}
            </Button>
            <Button onClick={() => begin.mutate(false)}>Begin with none</Button>
          </>
        )}
      </p>
    </div>
  );
}
