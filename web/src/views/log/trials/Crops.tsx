import { useState } from "react";

import { Chips } from "../Chips";

const CORNERS = [
  { key: "top_left", name: "top left" },
  { key: "top_right", name: "top right" },
  { key: "bottom_left", name: "bottom left" },
  { key: "bottom_right", name: "bottom right" },
] as const;

type Corner = (typeof CORNERS)[number]["key"];

/** The centre and a corner of a picture at 100 %, to be judged side by side. */
export function Crops({ picture }: { picture: number }) {
  const [corner, setCorner] = useState<Corner>("top_left");
  const [missing, setMissing] = useState(false);
  const part = (place: string, name: string) => (
    <figure>
      <img
        src={`/api/v1/log/pictures/${picture}/crop?place=${place}`}
        width={320}
        height={320}
        alt={`${name} at 100 %`}
        onError={() => setMissing(true)}
      />
      <figcaption>{name}</figcaption>
    </figure>
  );
  if (missing) return <p className="trials-none">Nothing can be shown of this picture: look at it where it is.</p>;
  return (
    <section className="trials-crops" aria-label="At 100 %">
      {part("centre", "centre")}
      {part(corner, CORNERS.find(({ key }) => key === corner)?.name ?? corner)}
      <Chips name="Corner" options={CORNERS} value={corner} onChange={(chosen) => chosen && setCorner(chosen)} />
    </section>
  );
}
