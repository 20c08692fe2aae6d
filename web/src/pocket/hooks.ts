import { useSyncExternalStore } from "react";

import { answering, onAnswering } from "./away";
import { carried, onCarried } from "./carrying";
import { deedsWaiting, onDeeds } from "./deeds";
import { onRegistered, registered } from "./registration";

/** Whether the machine answers. */
export const useAnswering = () => useSyncExternalStore(onAnswering, answering);
/** What is carried. */
export const useCarried = () => useSyncExternalStore(onCarried, carried);
/** What waits to be sent; `null` until it was read. */
export const useDeeds = () => useSyncExternalStore(onDeeds, deedsWaiting);
/** Whether the page opens without the machine. */
export const useRegistered = () => useSyncExternalStore(onRegistered, registered);
