import type { Help } from "../../app/screen";

export const HELP: Help = {
  title: "Devices",
  keys: [],
  children: (
    <>
      <p>
        A device is let in by a code that only this machine shows. It may read and log, or do everything that is not for
        the machine alone: bringing in and restoring, backups, retiring, picture folders and sidecars, what hangs on a
        cable, and pairing itself.
      </p>
      <p>Revoke a device that is lost: it is shut out at once. What waits on it and was never sent stays on it.</p>
    </>
  ),
};
