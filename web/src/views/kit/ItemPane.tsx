import { useQuery } from "@tanstack/react-query";
import Button from "antd/es/button";

import { ProblemError } from "../../api/client";
import { gearSchemaQuery, itemQuery, type Kind } from "../../api/queries";
import type { Chosen } from "../../app/practice";
import { Failed } from "../../parts/Failed";
import type { Fields } from "../../parts/fields";
import { KIND_WORDS } from "../../parts/labels";
import { ItemForm } from "./ItemForm";

interface Props {
  kind: Kind;
  /** An id; "new" for one that is to be added. */
  id: string;
  /** What a new item begins with. */
  begin: Fields;
  practice: Chosen;
  onOpen: (id: string | null, begin?: Fields) => void;
  onKept: (name: string) => boolean;
}

/** One item: looked at, edited in place, copied, retired; a new one is added with the same form. */
export function ItemPane(props: Props) {
  const { kind, id, onOpen } = props;
  const isNew = id === "new";
  const page = useQuery({ ...itemQuery(kind, id), enabled: !isNew });
  const schema = useQuery(gearSchemaQuery);
  if (page.error instanceof ProblemError && page.error.problem.type === "unknown_id") {
    return (
      <div className="pane message" role="alert" data-state="gone">
        <h2>{`This ${KIND_WORDS[kind].one} is not in the collection.`}</h2>
        <p>It was removed, or the address is mistyped.</p>
        <p className="message-actions">
          {page.error.problem.near.map((near) => (
            <Button key={near} onClick={() => onOpen(near)}>
              {near}
            </Button>
          ))}
          <Button type="primary" onClick={() => onOpen(null)}>
            To the shelf
          </Button>
        </p>
      </div>
    );
  }
  const error = page.error ?? schema.error;
  if (error) {
    return (
      <Failed
        error={error}
        onRetry={() => {
          void page.refetch();
          void schema.refetch();
        }}
      />
    );
  }
  if (!schema.data || (!isNew && !page.data)) return <div className="pane skeleton" aria-busy="true" />;
  return <ItemForm key={`${kind} ${id}`} {...props} page={page.data ?? null} root={schema.data} />;
}
