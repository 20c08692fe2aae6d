import Button from "antd/es/button";
import { type ComponentProps, lazy, Suspense } from "react";

import type Editor from "./ChainEditor";

const ChainEditor = lazy(() => import("./ChainEditor"));

interface Props extends Omit<ComponentProps<typeof Editor>, "onClose"> {
  open: boolean;
  onOpen: (open: boolean) => void;
}

/** The way to a chain of one's own, and once open the editor. */
export function ByHand({ open, onOpen, ...chain }: Props) {
  const offer = (
    <p className="chain-closed">
      <Button size="small" type="link" onClick={() => onOpen(true)}>
        Put a chain together by hand
      </Button>
    </p>
  );
  if (!open) return offer;
  return (
    <Suspense fallback={offer}>
      <ChainEditor {...chain} onClose={() => onOpen(false)} />
    </Suspense>
  );
}
