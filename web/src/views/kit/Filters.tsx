import "./Filters.css";

import Input, { type InputRef } from "antd/es/input/Input";
import InputNumber from "antd/es/input-number";
import Select from "antd/es/select";
import { memo, type RefObject, useMemo } from "react";

import type { Shelf } from "../../api/client";
import type { Kind, Wanted } from "../../api/queries";
import { word } from "../../parts/words";
import { Plain } from "../../parts/Plain";

interface Props {
  kind: Kind;
  shelf: Shelf | undefined;
  address: URLSearchParams;
  /** What is typed, which the address follows. */
  text: string;
  onType: (text: string) => void;
  /** Where there is little room the filters stand folded. */
  folded: boolean;
  search: RefObject<InputRef | null>;
  onChange: (next: Record<string, string | null>) => void;
}

const SORTS = [
  ["name", "by name"],
  ["focal_length", "by focal length"],
  ["f_number", "by aperture"],
  ["length", "by length"],
  ["register", `by ${word("flange_focal_distance")}`],
  ["price", "by price"],
  ["mass", "by weight"],
] as const;
const HANDS = [
  ["at_hand", "owned or borrowed"],
  ["owned", "owned"],
  ["borrowed", "borrowed"],
  ["wanted", "not owned"],
] as const;
const TRUSTS = [
  ["assumed", "with assumed values"],
  ["measured", "measured"],
  ["contradicted", "with evidence against"],
] as const;

const known = <T extends string>(options: readonly (readonly [T, string])[], value: string | null): T | undefined =>
  options.find(([one]) => one === value)?.[0];

/** What an address looks for. */
export function wantedOf(address: URLSearchParams): Wanted {
  const number = (key: string) => {
    const value = Number(address.get(key) ?? "");
    return address.get(key) && Number.isFinite(value) && value >= 0 ? value : undefined;
  };
  const contacts = address.get("contacts");
  const [mount, tag] = [address.get("mount"), address.get("tag")];
  const [covers, hand, trust] = [
    number("covers"),
    known(HANDS, address.get("hand")),
    known(TRUSTS, address.get("trust")),
  ];
  const [price, mass] = [number("price"), number("mass")];
  return {
    q: (address.get("q") ?? "").slice(0, 200),
    sort: known(SORTS, address.get("sort")) ?? "name",
    descending: address.get("down") === "1",
    retired: address.get("retired") === "1",
    ...(mount ? { mount } : {}),
    ...(tag ? { tag } : {}),
    ...(covers ? { covers_mm: covers } : {}),
    ...(contacts ? { contacts: contacts === "yes" } : {}),
    ...(hand ? { hand } : {}),
    ...(trust ? { trust } : {}),
    ...(price === undefined ? {} : { price_up_to: price }),
    ...(mass === undefined ? {} : { mass_up_to_g: mass }),
  };
}

/** Search across names, aliases, threads and mounts; filters as people think; sorting. */
export function Filters({ kind, shelf, address, text, onType, folded, search, onChange }: Props) {
  // What narrows beside the words: typing does not touch it.
  const rest = useMemo(() => {
    const others = new URLSearchParams(address);
    others.delete("q");
    others.delete("item");
    return others.toString();
  }, [address]);
  return (
    <div className="filters">
      <Input
        ref={search}
        value={text}
        allowClear
        maxLength={200}
        aria-label="Search this shelf"
        placeholder={kind === "rigs" ? "search by name or piece" : "search: name, mount, thread, use"}
        onChange={(event) => onType(event.target.value)}
      />
      {kind !== "rigs" && <Narrowing kind={kind} shelf={shelf} rest={rest} folded={folded} onChange={onChange} />}
    </div>
  );
}

/** By what a shelf may be put in order: by what its items have. */
function ordersOf(kind: Kind) {
  const able = (one: string) => {
    switch (kind) {
      case "lenses":
        return true;
      case "mounts":
        return one === "name" || one === "register";
      case "foils":
      case "pairs":
      case "protocols":
        return one === "name";
      default:
        return one !== "focal_length" && one !== "f_number";
    }
  };
  return SORTS.filter(([one]) => able(one)).map(([value, label]) => ({ value, label }));
}

/** The filters that stand there from the start. */
const FIRST = ["mount", "hand", "sort"];

interface UpToProps extends Pick<Props, "onChange"> {
  name: "price" | "mass";
  placeholder: string;
  label: string;
  address: URLSearchParams;
}

function UpTo({ name, placeholder, label, address, onChange }: UpToProps) {
  return (
    <InputNumber
      size="small"
      className="filter-number"
      min={0}
      controls={false}
      placeholder={placeholder}
      aria-label={label}
      value={address.get(name) ? Number(address.get(name)) : null}
      onChange={(value) => onChange({ [name]: value === null ? null : String(value) })}
    />
  );
}

type NarrowingProps = Pick<Props, "kind" | "shelf" | "folded" | "onChange"> & { rest: string };

const Narrowing = memo(function Narrowing({ kind, shelf, rest, folded, onChange }: NarrowingProps) {
  const address = useMemo(() => new URLSearchParams(rest), [rest]);
  const pieces = kind === "lenses" || kind === "bodies" || kind === "adapters";
  const within = [...(folded ? FIRST : []), "covers", "contacts", "tag", "trust", "price", "mass", "retired", "down"];
  const active = within.filter((one) => address.has(one)).length;
  const choice = (key: string, label: string, options: readonly (readonly [string, string])[]) => (
    <Select<string>
      size="small"
      className="filter"
      value={address.get(key)}
      allowClear
      placeholder={label}
      aria-label={label}
      popupMatchSelectWidth={false}
      options={options.map(([value, said]) => ({ value, label: said }))}
      onChange={(value: string | undefined) => onChange({ [key]: value ?? null })}
    />
  );
  const first = (
    <>
      {pieces &&
        choice(
          "mount",
          "any mount",
          (shelf?.mounts ?? []).map(({ id, name }) => [id, name] as const),
        )}
      {(pieces || kind === "accessories") && choice("hand", "in the kit or not", HANDS)}
      <Select<string>
        size="small"
        className="filter"
        value={known(SORTS, address.get("sort")) ?? "name"}
        aria-label="Order"
        popupMatchSelectWidth={false}
        options={ordersOf(kind)}
        onChange={(value) => onChange({ sort: value === "name" ? null : value })}
      />
    </>
  );
  return (
    <>
      {!folded && <div className="filter-row">{first}</div>}
      <details key={String(folded)} className="filter-more">
        <summary>{`${folded ? "Filters and order" : "More filters"}${active ? `: ${active} set` : ""}`}</summary>
        <div className="filter-row">
          {folded && first}
          {pieces &&
            choice(
              "covers",
              kind === "bodies" ? "any format" : "covers any format",
              (shelf?.formats ?? []).map(
                ({ name, diagonal_mm }) =>
                  [diagonal_mm.toFixed(4), kind === "bodies" ? name : `covers ${name}`] as const,
              ),
            )}
          {(pieces || kind === "mounts") &&
            choice("contacts", "contacts or not", [
              ["yes", "with contacts"],
              ["no", "without contacts"],
            ])}
          {(shelf?.tags.length ?? 0) > 0 &&
            choice(
              "tag",
              "any use",
              (shelf?.tags ?? []).map((tag) => [tag, tag] as const),
            )}
          {pieces && choice("trust", "stated, assumed or measured", TRUSTS)}
          {pieces && <UpTo name="price" placeholder="price to" label="Price up to" {...{ address, onChange }} />}
          {pieces && <UpTo name="mass" placeholder="grams to" label="Weight up to, grams" {...{ address, onChange }} />}
          <Plain
            className="filter-toggle"
            aria-pressed={address.get("retired") === "1"}
            onClick={() => onChange({ retired: address.get("retired") === "1" ? null : "1" })}
          >
            archived
          </Plain>
          <Plain
            className="filter-toggle"
            aria-pressed={address.get("down") === "1"}
            onClick={() => onChange({ down: address.get("down") === "1" ? null : "1" })}
          >
            {address.get("down") === "1" ? "downwards" : "upwards"}
          </Plain>
        </div>
      </details>
    </>
  );
});
