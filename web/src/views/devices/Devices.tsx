import "./Devices.css";

import { useQuery } from "@tanstack/react-query";

import { useScreen } from "../../app/screen";
import { Failed } from "../../parts/Failed";
import { HELP } from "./help";
import { OnTheMachine } from "./OnTheMachine";
import { lanQuery } from "./queries";
import { ThisDevice } from "./ThisDevice";

/** On the machine: who may come in. On a device: what it may, and how it works without the machine. */
export default function Devices() {
  const lan = useQuery(lanQuery);
  useScreen({
    title: "Devices",
    answer: lan.data ? "devices" : undefined,
    busy: lan.isPending,
    className: "devices",
    help: HELP,
  });
  if (lan.error) return <Failed error={lan.error} onRetry={() => void lan.refetch()} />;
  if (!lan.data) return <div className="sheet skeleton" aria-busy="true" />;
  if (lan.data.device) return <ThisDevice lan={lan.data} device={lan.data.device} />;
  return lan.data.listens ? <OnTheMachine lan={lan.data} /> : <NotListening />;
}

function NotListening() {
  return (
    <div className="message" data-state="not-listening">
      <h1>Phones are not let in.</h1>
      <p>
        Tropeion answers to this machine alone, as it was started. To use it on a phone in your own network, stop it in
        its terminal and start it so:
      </p>
      <p>
        <code>tropeion serve --lan</code>
      </p>
      <p>
        Then nobody comes in without a code from this screen. Without any network,{" "}
        <code>tropeion pocket FILE.html</code> writes cards, packing lists and what would fit as one page to carry.
      </p>
    </div>
  );
}
