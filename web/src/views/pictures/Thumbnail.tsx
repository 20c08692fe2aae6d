import { useState } from "react";

import type { PictureRow } from "../../api/logQueries";

/** A picture, small; where none can be made of it, its name stands in its place. */
export function Thumbnail({ picture }: { picture: PictureRow }) {
  const [failed, setFailed] = useState<number | null>(null);
  if (failed === picture.number) return <p className="thumbnail thumbnail-none">no thumbnail of this kind of file</p>;
  return (
    <img
      className="thumbnail"
      src={`/api/v1/log/pictures/${picture.number}/thumbnail`}
      alt={picture.files[0] ?? ""}
      onError={() => setFailed(picture.number)}
    />
  );
}
