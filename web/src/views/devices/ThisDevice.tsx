import { useMutation } from "@tanstack/react-query";
import Button from "antd/es/button";
import Popconfirm from "antd/es/popconfirm";
import { useState } from "react";

import { client } from "../../api/client";
import { keep } from "../../parts/csv";
import { Plain } from "../../parts/Plain";
import { Refused } from "../../parts/Refused";
import { unpaired } from "../../pocket/away";
import { useDeeds, useRegistered } from "../../pocket/hooks";
import { inLogFile, LOG_FILE_NAME, logFileOf } from "../../pocket/logFile";
import { type LanState, rightSaid } from "./queries";

interface Props {
  lan: LanState;
  device: NonNullable<LanState["device"]>;
}

/** A paired device: what it may, whether it works without the machine, what waits on it. */
export function ThisDevice({ lan, device }: Props) {
  const { offline } = useRegistered();
  const waiting = useDeeds() ?? [];
  const forget = useMutation({
    mutationFn: () => client.DELETE("/api/v1/lan/session"),
    onSuccess: unpaired,
  });
  return (
    <div className="device-page">
      <h1>{`This device is paired as “${device.name}”.`}</h1>
      <p>{`It may ${rightSaid(device.may)}. What it may is decided on the machine, under Devices.`}</p>
      <h2>Without the machine</h2>
      {offline === "ready" ? (
        <p data-offline="ready">It works offline: what is carried, the log and the cards open without the machine.</p>
      ) : (
        <WorkOffline lan={lan} refused={offline === "refused"} />
      )}
      <h2>What waits here</h2>
      {waiting.length === 0 ? (
        <p>Nothing: everything was sent.</p>
      ) : (
        <p data-waiting={waiting.length}>
          {`${waiting.length} ${waiting.length === 1 ? "thing waits" : "things wait"} to be sent. `}
          {inLogFile(waiting) > 0 && (
            <Button onClick={() => keep(LOG_FILE_NAME, "application/json", logFileOf(waiting))}>
              Save as a log file
            </Button>
          )}
        </p>
      )}
      {waiting.length > 0 && (
        <p className="devices-note">
          A new address of the machine is another place to this browser: what waits stays at this one. The log file
          takes it along; ticks are no part of it.
        </p>
      )}
      {offline === "ready" && <Remove lan={lan} />}
      <h2>Leave</h2>
      <p className="message-actions">
        <Popconfirm
          title="Is this device to be forgotten?"
          description="What is carried is wiped here. What waits stays, and can be saved."
          okText="Forget it"
          cancelText="Cancel"
          onConfirm={() => forget.mutate()}
        >
          <Button danger>Forget this device</Button>
        </Popconfirm>
      </p>
      {forget.error && <Refused error={forget.error} />}
    </div>
  );
}

/** Why a browser keeps nothing yet, and how it is led to trust this one machine. */
function WorkOffline({ lan, refused }: { lan: LanState; refused: boolean }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <p data-offline={refused ? "refused" : "unknown"}>
        {refused
          ? "Online only: the browser keeps nothing for a page whose certificate it does not trust."
          : "It is being made ready."}
      </p>
      {refused && !open && (
        <Button type="primary" size="large" onClick={() => setOpen(true)}>
          Make this phone work offline
        </Button>
      )}
      {refused && open && (
        <>
          <ol className="numbered device-steps">
            <li>
              <a href="/api/v1/lan/authority" download="tropeion-authority.crt">
                Fetch the authority’s certificate
              </a>
              . The device asks whether to install it.
            </li>
            <li>
              Before you agree, compare its SHA-256 fingerprint with the one on the machine’s screen, under Devices. If
              one pair differs, do not install it.
              <p className="fingerprint" data-fingerprint>
                {lan.fingerprint}
              </p>
            </li>
            <li>
              Install it as an authority for web pages, in the settings of the device: look there for certificates,
              credentials or profiles. Some devices ask a second time whether it is to be trusted in full.
            </li>
            <li>Close this page and open it again. It says here when it works offline.</li>
          </ol>
          <p>
            What that means: this device then believes pages for which this authority vouches. It is limited to the
            names and private addresses of your own network, and its key lies on the machine alone. Whoever gets hold of
            that key could pretend to be a page in your network, never one outside of it.
          </p>
          <Remove lan={lan} />
        </>
      )}
    </>
  );
}

function Remove({ lan }: { lan: LanState }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Plain className="unfold" aria-expanded={open} onClick={() => setOpen(!open)}>
        How to remove it again
      </Plain>
      {open && (
        <p>
          {
            "In the settings of the device, where it was installed: under installed certificates, or profiles, it is called “"
          }
          <b>{`Tropeion on ${lan.names[0] ?? "this machine"}`}</b>
          {"”. Remove it there, then choose Forget this device here."}
        </p>
      )}
    </>
  );
}
