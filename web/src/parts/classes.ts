/** The class names that hold, joined. */
export const classes = (...names: (string | false | null | undefined)[]) => names.filter(Boolean).join(" ");
