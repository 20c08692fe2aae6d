import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import Button from "antd/es/button";
import { useState } from "react";

import { client, unwrap } from "../../api/client";
import { Plain } from "../../parts/Plain";
import { Refused } from "../../parts/Refused";
import { type CodePage, codeQuery, type Right, RIGHTS } from "./queries";

const clock = (seconds: number) => `${Math.floor(seconds / 60)}:${String(Math.floor(seconds % 60)).padStart(2, "0")}`;

/** A code for one device: read by its camera, or typed. */
export function Pairing() {
  const queries = useQueryClient();
  const [may, setMay] = useState<Right>("log");
  const shown = useQuery(codeQuery).data;
  const put = (page: CodePage) => queries.setQueryData(codeQuery.queryKey, page);
  const ask = useMutation({
    mutationFn: async () => unwrap(await client.POST("/api/v1/lan/code", { body: { may } })),
    onSuccess: put,
  });
  const withdraw = useMutation({
    mutationFn: async () => unwrap(await client.DELETE("/api/v1/lan/code")),
    onSuccess: put,
  });
  if (shown?.code)
    return (
      <>
        <h1>Read this with the device’s camera.</h1>
        <Code page={shown} />
        <p className="message-actions">
          <Button onClick={() => withdraw.mutate()}>Cancel</Button>
        </p>
      </>
    );
  return (
    <>
      <h1>Pair a device</h1>
      <div className="devices-rights" role="group" aria-label="What it may">
        {RIGHTS.map(({ key, name }) => (
          <Plain key={key} aria-pressed={key === may} onClick={() => setMay(key)}>
            {`It may ${name}`}
          </Plain>
        ))}
      </div>
      <p className="message-actions">
        <Button type="primary" size="large" loading={ask.isPending} onClick={() => ask.mutate()}>
          Show a code
        </Button>
      </p>
      {ask.error && <Refused error={ask.error} />}
      <p className="devices-note">
        The code lets one device in, once, within five minutes. Five wrong tries make it void.
      </p>
    </>
  );
}

function Code({ page }: { page: CodePage }) {
  const [chosen, choose] = useState(0);
  const at = page.at[chosen] ?? page.at[0];
  return (
    <>
      {page.at.length > 1 && (
        <div className="devices-rights" role="group" aria-label="At which address">
          {page.at.map(({ plain_url: url }, index) => (
            <Plain key={url} aria-pressed={index === chosen} onClick={() => choose(index)}>
              {url}
            </Plain>
          ))}
        </div>
      )}
      {at && (
        <img
          className="devices-qr"
          alt={`A QR code that leads to ${at.plain_url}`}
          src={`data:image/svg+xml;utf8,${encodeURIComponent(at.qr_svg)}`}
        />
      )}
      <p>
        {"Or open "}
        <b>{at?.plain_url}</b>
        {" there and type"}
      </p>
      <p className="devices-code" data-code>
        {page.code}
      </p>
      <p
        className="devices-note"
        role="timer"
      >{`Good for ${clock(page.seconds_left)}. The browser warns of the certificate at first: it does not know this machine yet.`}</p>
    </>
  );
}
