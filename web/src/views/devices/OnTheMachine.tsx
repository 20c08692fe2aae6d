import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import Button from "antd/es/button";
import Popconfirm from "antd/es/popconfirm";
import { useState } from "react";

import { client, unwrap } from "../../api/client";
import { about } from "../../api/queries";
import { moment } from "../../parts/format";
import { Plain } from "../../parts/Plain";
import { Refused } from "../../parts/Refused";
import { Pairing } from "./Pairing";
import {
  devicesQuery,
  type Happened,
  type LanState,
  type PairedDevice,
  type Right,
  RIGHTS,
  rightSaid,
} from "./queries";

/** Where the network's listener stands, a code for a device, those that may come in, and what happened. */
export function OnTheMachine({ lan }: { lan: LanState }) {
  const page = useQuery(devicesQuery);
  const devices = page.data?.devices ?? [];
  return (
    <div className="devices-page">
      <section>
        <h1>
          {devices.length === 0
            ? "No device is paired."
            : `${devices.length} ${devices.length === 1 ? "device may" : "devices may"} come in.`}
        </h1>
        {lan.failed.map((why) => (
          <p key={why} className="problem-line" role="alert">{`Not in the network: ${why}`}</p>
        ))}
        <ul className="devices-list" aria-label="Paired devices">
          {devices.map((device) => (
            <OneDevice key={device.id} device={device} />
          ))}
        </ul>
        {page.data && (
          <p className="devices-note">{`A device that is not used for ${page.data.unused_days} days has to be paired again.`}</p>
        )}
        <Log happened={page.data?.happened ?? []} />
      </section>
      <section className="devices-pair">
        {lan.urls.length > 0 && <Pairing />}
        {lan.urls.length > 0 && (
          <>
            <h2>In your network at</h2>
            <ul className="devices-urls">
              {lan.urls.map((url) => (
                <li key={url}>{url}</li>
              ))}
            </ul>
          </>
        )}
        {lan.fingerprint && (
          <>
            <h2>The authority of this machine</h2>
            <p className="fingerprint" data-fingerprint>
              {lan.fingerprint}
            </p>
            <p className="devices-note">
              A phone that shall work offline installs it. Compare it there: if it is another one, somebody stands
              between, and you do not install it. Its key never leaves this machine, and it can vouch for nothing but
              this machine’s own names and private addresses.
            </p>
          </>
        )}
      </section>
    </div>
  );
}

function OneDevice({ device }: { device: PairedDevice }) {
  const queries = useQueryClient();
  const refresh = () => queries.invalidateQueries({ predicate: about("lan") });
  const path = { params: { path: { id: device.id } } };
  const revoke = useMutation({
    mutationFn: () => client.DELETE("/api/v1/lan/devices/{id}", path),
    onSuccess: refresh,
  });
  const change = useMutation({
    mutationFn: async (changed: { name: string; may: Right }) =>
      unwrap(await client.PUT("/api/v1/lan/devices/{id}", { ...path, body: changed })),
    onSuccess: refresh,
  });
  const refused = revoke.error ?? change.error;
  return (
    <li data-device={device.name}>
      <b>{device.name}</b>
      <span>{`may ${rightSaid(device.may)}`}</span>
      <span className="devices-note">{`last here ${moment(device.used_at)} from ${device.address}, paired ${moment(device.paired_at)}`}</span>
      <span className="devices-tools">
        {RIGHTS.filter(({ key }) => key !== device.may).map(({ key, name }) => (
          <Plain key={key} className="unfold" onClick={() => change.mutate({ name: device.name, may: key })}>
            {`let it ${key === "log" ? "only " : "do "}${name}`}
          </Plain>
        ))}
        <Popconfirm
          title={`Revoke “${device.name}”?`}
          description="It is shut out at once. What waits on it and was never sent stays on it."
          okText="Revoke it"
          cancelText="Cancel"
          onConfirm={() => revoke.mutate()}
        >
          <Button size="small" danger loading={revoke.isPending}>
            Revoke
          </Button>
        </Popconfirm>
      </span>
      {refused && <Refused error={refused} />}
    </li>
  );
}

const HAPPENED: Record<Happened["what"], string> = {
  paired: "paired",
  revoked: "revoked",
  expired: "not used for long, and forgotten",
  right: "may something else now",
  wrong_code: "a wrong code",
  unpaired: "refused: not paired",
  not_allowed: "refused: it may not",
  other_host: "refused: under another name, or from another page",
};

function Log({ happened }: { happened: readonly Happened[] }) {
  const [all, setAll] = useState(false);
  if (happened.length === 0) return null;
  const shown = all ? happened : happened.slice(0, 8);
  return (
    <>
      <h2>What happened at the door</h2>
      <table className="devices-log">
        <tbody>
          {shown.map((one) => (
            <tr key={`${one.at} ${one.what} ${one.address} ${one.device}`}>
              <td>{moment(one.at)}</td>
              <td>{[one.device, HAPPENED[one.what]].filter(Boolean).join(": ")}</td>
              <td>{one.address}</td>
              <td>{one.times > 1 ? `${one.times} times` : ""}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {shown.length < happened.length && (
        <Plain className="unfold" onClick={() => setAll(true)}>
          {`All ${happened.length}`}
        </Plain>
      )}
    </>
  );
}
