type FieldName = "stop" | "distance" | "ring" | "second" | "length" | "focal";

interface Kind {
  what: "edges" | "circle" | "ring" | "ladder" | "series" | "chart";
  name: string;
  head: string;
  how: string;
  fields: readonly (readonly [FieldName, string])[];
}

export const KINDS: readonly Kind[] = [
  {
    what: "edges",
    name: "Sharpness",
    head: "How sharp is it? Any straight edge tells: a roof, a door, a printed square.",
    how: "Tripod, self-timer, sharpening and lens correction off, raw if there is one. An edge runs 2° to 10° off the picture’s grid and spans 60 pixels; drag a rectangle around any other.",
    fields: [
      ["stop", "stop on the lens, f/"],
      ["focal", "mark of a zoom, mm"],
    ],
  },
  {
    what: "circle",
    name: "Circle and fall-off",
    head: "How large is the circle? An evenly lit frame tells.",
    how: "Photograph an overcast sky through tracing paper laid on the lens, a stop under middle grey, at infinity.",
    fields: [["stop", "stop on the lens, f/"]],
  },
  {
    what: "ring",
    name: "The ring’s error",
    head: "How far off is the ring? A soft edge tells, beside the same edge in focus.",
    how: "Leave the camera where it is: one frame with the ring where it should be sharp, one focused as well as it can be, both at one stop. An edge near the middle of the frame.",
    fields: [
      ["stop", "stop on the lens, f/"],
      ["distance", "the edge stands at, m (empty: far away)"],
      ["ring", "the ring says, m or ∞ (empty: far stop)"],
      ["second", "in the second frame, m or ∞"],
    ],
  },
  {
    what: "ladder",
    name: "Focus ladder",
    head: "Where does it focus? The printed ladder tells.",
    how: "Stand the ladder at 45°, focus on its middle, and click the two marks at its ends.",
    fields: [["length", "between the marks, mm"]],
  },
  {
    what: "series",
    name: "Series of frames",
    head: "Is it a wedge, a curved field, a shift of focus? A series with the ring moved tells.",
    how: "The chart over the whole frame, four frames or more at the widest stop, the ring moved a little between them; for a shift of focus the same again stopped down.",
    fields: [],
  },
  {
    what: "chart",
    name: "Charts to print",
    head: "",
    how: "",
    fields: [],
  },
];

const [FIRST] = KINDS as [Kind];

export const KIND_OF = (word: string | null): Kind => KINDS.find(({ what }) => what === word) ?? FIRST;
