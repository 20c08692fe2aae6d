import type { ComponentProps } from "react";

/** A button that looks like what it stands for; the component library dresses the others. */
export const Plain = (props: ComponentProps<"button">) => <button type="button" {...props} />;
